/** Files attached to records: content checked, kept outside the database under their checksum. */
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Request, Router } from 'express';
import multer from 'multer';
import { z } from 'zod';
import { documentKind } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import type { Commands } from './commands';
import { addRowOnce, fetching } from './rows';
import { file } from './schema';
import type { Actor } from './work';

const MOST_BYTES = 10 * 1024 * 1024;

/** Kinds of file that are taken, by how their content begins. */
const KINDS: readonly { readonly type: string; readonly endings: readonly string[]; readonly begins: readonly number[] }[] = [
  { type: 'application/pdf', endings: ['pdf'], begins: [0x25, 0x50, 0x44, 0x46, 0x2d] },
  { type: 'image/png', endings: ['png'], begins: [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a] },
  { type: 'image/jpeg', endings: ['jpg', 'jpeg'], begins: [0xff, 0xd8, 0xff] },
];

/** The type that a file's name and content agree on. Refuses `notWhatItSays`. */
export function checkedType(name: string, content: Buffer): string {
  const ending = name.split('.').pop()?.toLowerCase() ?? '';
  const named = KINDS.find((kind) => kind.endings.includes(ending));
  if (!named) throw new Refusal('notWhatItSays', `"${name}" can't be attached: PDF, PNG and JPEG files can.`, { field: 'file' });
  if (!named.begins.every((byte, index) => content[index] === byte)) {
    throw new Refusal(
      'notWhatItSays',
      `"${name}" is not what it says: its content is no ${ending.toUpperCase()}. Save it again from the program that made it.`,
      { field: 'file' },
    );
  }
  return named.type;
}

export function filesFolder(dataFolder: string): string {
  return join(dataFolder, 'files');
}

const fileOf = fetching(file, 'file');
const params = z.object({ kind: documentKind, id: z.coerce.number().int().positive() });

/** Who sends or fetches a file. Refuses `notSignedIn`. */
export function actorOf(session: { actor?: Actor }): Actor {
  if (!session.actor) throw new Refusal('notSignedIn', 'You are not signed in: sign in again.');
  return session.actor;
}

/** The file of a form, with a name that is safe to keep. Refuses `noFile`. */
export function sentFile({ file }: Request): { readonly name: string; readonly content: Buffer } {
  if (!file) throw new Refusal('noFile', 'Choose a file.', { field: 'file' });
  const name = Buffer.from(file.originalname, 'latin1')
    .toString('utf8')
    .replace(/[\\/\0]/g, '_')
    .slice(-120);
  return { name, content: file.buffer };
}

/** Routes to attach and to open a file. */
export function bindFiles(router: Router, commands: Commands, dataFolder: string): void {
  const upload = multer({ storage: multer.memoryStorage(), limits: { fileSize: MOST_BYTES, files: 1 } });
  const folder = filesFolder(dataFolder);
  mkdirSync(folder, { recursive: true });
  router.post('/records/:kind/:id/files', upload.single('file'), async (request, response) => {
    const actor = actorOf(request.session);
    if (actor.role === 'viewer') throw new Refusal('notAllowed', 'Your role (viewer) may not attach files.');
    const { kind, id } = params.parse(request.params);
    const { name, content } = sentFile(request);
    const type = checkedType(name, content);
    const checksum = createHash('sha256').update(content).digest('hex');
    const path = join(folder, checksum);
    if (!existsSync(path)) {
      // A name of its own first, so that a kill leaves no half file under the checksum.
      writeFileSync(`${path}.part`, content);
      renameSync(`${path}.part`, path);
    }
    await commands.performTogether(actor, (work) => {
      addRowOnce(work, file, { kind, recordId: id, name, type, size: content.length, checksum, at: work.now, userId: actor.id });
      work.record(kind, id, `attached ${name}`);
    });
    response.json({});
  });
  router.get('/files/:id', (request, response) => {
    const work = commands.look(actorOf(request.session));
    const row = fileOf(work, Number(request.params.id));
    const content = readFileSync(join(folder, row.checksum));
    response
      .type(row.type)
      .set('content-disposition', `attachment; filename*=UTF-8''${encodeURIComponent(row.name)}`)
      .send(content);
  });
}
