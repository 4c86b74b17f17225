/** Takes a file that somebody sends: nothing of it is read before it is known that they may, and no more than the most. */
import { randomUUID } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import type { Request, RequestHandler } from 'express';
import multer from 'multer';
import { Refusal } from '@terrace/core';

/** What a file that is coming in is called until it is all there; what a kill leaves of them is swept at the next start. */
export const PART = '.part';

export interface Upload {
  /** Lets on whoever may send it. */
  readonly permit: RequestHandler;
  readonly mostBytes: number;
  /** Where it is kept while it comes in; in memory where none is given. */
  readonly folder?: string;
}

/** The middlewares of a route that takes one file, in the form's field "file". */
export function takesFile({ permit, mostBytes, folder }: Upload): RequestHandler[] {
  if (folder !== undefined) mkdirSync(folder, { recursive: true });
  const storage =
    folder === undefined
      ? multer.memoryStorage()
      : multer.diskStorage({ destination: folder, filename: (_request, _file, done) => done(null, `${randomUUID()}${PART}`) });
  const take = multer({ storage, limits: { fileSize: mostBytes, files: 1, fields: 4, parts: 5, fieldSize: 1000, headerPairs: 40 } }).single('file');
  return [
    permit,
    (request, response, next) => {
      void take(request, response, (error?: unknown) => next(error === undefined || error === null ? undefined : refusalOf(error, mostBytes)));
    },
  ];
}

function refusalOf(error: unknown, mostBytes: number): unknown {
  const field = { field: 'file' };
  if (error instanceof multer.MulterError) {
    if (error.code === 'LIMIT_FILE_SIZE')
      return new Refusal('fileTooLarge', `The file is too large: the most is ${Math.round(mostBytes / 1024 / 1024)} MB.`, field);
    if (error.code === 'LIMIT_UNEXPECTED_FILE') return new Refusal('badUpload', 'Send one file, in the field "file".', field);
    return new Refusal('badUpload', `The form can’t be taken: ${error.message.toLowerCase()}.`, field);
  }
  // Faults of ours carry a code; what the form's reader says of a broken form does not.
  if (error instanceof Error && !('code' in error)) return new Refusal('badUpload', `The form can’t be read: ${error.message.toLowerCase()}.`, field);
  return error;
}

/** The file of a form, with a name that is safe to keep. Refuses `noFile`. */
export function sentFile({ file }: Request): { readonly name: string; readonly content: Buffer; readonly path: string } {
  if (!file) throw new Refusal('noFile', 'Choose a file.', { field: 'file' });
  const said = Buffer.from(file.originalname, 'latin1').toString('utf8');
  // Letter by letter: half of one could not be written into an address again.
  const name = Array.from(said, (letter) => (letter < ' ' || '\\/\u007f'.includes(letter) ? '_' : letter))
    .slice(-120)
    .join('');
  return { name, content: file.buffer, path: file.path };
}
