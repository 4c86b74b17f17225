/**
 * Backups that only whoever has the passphrase can read: encrypted as the open format age says, so that they can be opened
 * without Terrace as well.
 */
import { open } from 'node:fs/promises';
import { createReadStream, createWriteStream } from 'node:fs';
import { Readable, Writable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { Decrypter, Encrypter } from 'age-encryption';

const MARK = 'age-encryption.org/v1';
const SHORTEST = 12;

/** Whether a file is encrypted. */
export async function isSealed(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(MARK.length), 0, MARK.length, 0);
    return buffer.subarray(0, bytesRead).toString('latin1') === MARK;
  } finally {
    await file.close();
  }
}

/** Encrypts a file with a passphrase. */
export async function seal(from: string, to: string, passphrase: string): Promise<void> {
  if (passphrase.length < SHORTEST) throw new Error(`a passphrase has at least ${SHORTEST} characters: several words are a good one`);
  const encrypter = new Encrypter();
  encrypter.setPassphrase(passphrase);
  const sealed = await encrypter.encrypt(bytesOf(from));
  await sealed.pipeTo(Writable.toWeb(createWriteStream(to, { mode: 0o600 })));
}

/** Decrypts a file. Throws where the passphrase is missing or another, or the file was changed. */
export async function unseal(from: string, to: string, passphrase: string | undefined): Promise<void> {
  if (passphrase === undefined) throw new Error(`${from} is encrypted: say the passphrase in TERRACE_PASSPHRASE`);
  const decrypter = new Decrypter();
  decrypter.addPassphrase(passphrase);
  let opened: globalThis.ReadableStream<Uint8Array>;
  try {
    opened = await decrypter.decrypt(bytesOf(from));
  } catch (error) {
    throw new Error(`${from} can't be decrypted: the passphrase is another one, or the file is damaged`, { cause: error });
  }
  try {
    await opened.pipeTo(Writable.toWeb(createWriteStream(to, { mode: 0o600 })));
  } catch (error) {
    if (error instanceof Error && 'code' in error) throw error;
    throw new Error(`${from} is damaged: a part of it was changed since it was encrypted, or is missing`, { cause: error });
  }
}

function bytesOf(path: string): globalThis.ReadableStream<Uint8Array> {
  return Readable.toWeb(createReadStream(path)) as ReadableStream<Uint8Array> as globalThis.ReadableStream<Uint8Array>;
}
