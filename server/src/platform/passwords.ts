/** Passwords: which are taken, and how they are kept. */
import { hash, verify } from '@node-rs/argon2';
import { dictionary } from '@zxcvbn-ts/language-common';
import { assertGoodPassword } from '@terrace/core';

let common: ReadonlySet<string> | null = null;

/** Hashes a password (argon2id with the library's recommended costs). */
export function hashPassword(password: string): Promise<string> {
  return hash(password);
}

/** Whether a password is the one that was hashed. */
export function isPassword(kept: string, password: string): Promise<boolean> {
  return verify(kept, password);
}

/** Hashes a password that somebody chose. Refuses `weakPassword`, by the 49,000 passwords that are tried first. */
export async function chosenPassword(password: string, known: readonly string[]): Promise<string> {
  common ??= new Set(dictionary['passwords-common'].map(String));
  assertGoodPassword(password, { common, known });
  return hashPassword(password);
}
