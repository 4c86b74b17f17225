/** Files attached to records: content checked, kept outside the database under their checksum. */
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Router } from 'express';
import { z } from 'zod';
import { documentKind, idParams } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import type { Audit } from './audit';
import type { Commands } from './commands';
import { documentFacts } from './documents';
import { sweepParts } from './parts';
import { addRowOnce, fetching, orNotFound } from './rows';
import { file } from './schema';
import { PART, sentFile, takesFile } from './upload';
import { actorOf, permitted } from './who';

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
  const kind = KINDS.find(({ endings }) => endings.includes(ending));
  if (!kind) throw new Refusal('notWhatItSays', `"${name}" can't be attached: PDF, PNG and JPEG files can.`, { field: 'file' });
  if (!kind.begins.every((byte, index) => content[index] === byte)) {
    throw new Refusal(
      'notWhatItSays',
      `"${name}" is not what it says: its content is no ${ending.toUpperCase()}. Save it again from the program that made it.`,
      { field: 'file' },
    );
  }
  return kind.type;
}

export function filesFolder(dataFolder: string): string {
  return join(dataFolder, 'files');
}

const fileOf = fetching(file, 'file');
const params = z.object({ kind: documentKind, id: idParams.shape.id });

/** Routes to attach and to open a file. */
export function bindFiles(router: Router, commands: Commands, dataFolder: string, audit: Audit): void {
  const folder = filesFolder(dataFolder);
  mkdirSync(folder, { recursive: true });
  sweepParts(folder);
  router.post('/records/:kind/:id/files', ...takesFile({ permit: permitted('files.attach'), mostBytes: MOST_BYTES }), async (request, response) => {
    const actor = actorOf(request);
    const { kind, id } = params.parse(request.params);
    orNotFound(documentFacts(commands.look(actor), kind, id), 'record to attach it to');
    const { name, content } = sentFile(request);
    const type = checkedType(name, content);
    const checksum = createHash('sha256').update(content).digest('hex');
    const path = join(folder, checksum);
    if (!existsSync(path)) {
      // A name of its own first, so that a kill leaves no half file under the checksum.
      writeFileSync(`${path}${PART}`, content);
      renameSync(`${path}${PART}`, path);
    }
    await commands.performTogether(actor, (work) => {
      addRowOnce(work, file, { kind, recordId: id, name, type, size: content.length, checksum, at: work.now, userId: actor.id });
      work.record(kind, id, `attached ${name}`);
    });
    audit.noteOf(request, 'fileSent', { detail: name });
    response.json({});
  });
  router.get('/files/:id', async (request, response) => {
    const work = commands.look(actorOf(request));
    const row = fileOf(work, idParams.parse(request.params).id);
    const content = await readFile(join(folder, row.checksum));
    response
      .type(row.type)
      .set('content-disposition', `attachment; filename*=UTF-8''${encodeURIComponent(row.name)}`)
      .send(content);
  });
}
