/** Archives, written and read in a thread that gives way to whoever answers people. */
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { DATABASE_FILE, openFile } from '../platform/database';
import { closeFile } from '../platform/database-file';
import { answering, giveWay, type Answer } from '../platform/threads';
import { writeArchive, type Archived } from './archive';
import { loadArchive, placeAttachments, unpackArchive, type Founder } from './found-from';

giveWay();

export interface WriteTask {
  readonly target: string;
  readonly writtenAt: string;
}

export interface FoundTask {
  readonly archive: string;
  readonly founder: Founder;
  readonly today: string;
}

/** One is written from a data folder, or the company of a data folder in which there is none is founded from one. */
export type ArchiveTask = { readonly dataFolder: string } & (WriteTask | FoundTask);

/** What was written, or the name of the company that was founded. */
export default function run({ dataFolder, ...task }: ArchiveTask): Promise<Answer<Archived | string>> {
  return answering<Archived | string>(async () =>
    'target' in task ? await writeArchive(dataFolder, task.target, task.writtenAt) : await found(dataFolder, task),
  );
}

async function found(dataFolder: string, { archive, founder, today }: FoundTask): Promise<string> {
  const folder = `${archive}.d`;
  try {
    const manifest = await unpackArchive(archive, folder);
    const store = openFile(join(dataFolder, DATABASE_FILE));
    try {
      loadArchive(store, folder, manifest, { founder, today });
    } finally {
      closeFile(store);
    }
    placeAttachments(folder, manifest, dataFolder);
    return manifest.company;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
