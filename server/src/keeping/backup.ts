/**
 * Backup and restore. A backup is one SQLite file: the database, copied online while it is in use, with the attached
 * files in a table of their own. A restore is checked before it takes the place of what is there.
 */
import { existsSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { join, resolve } from 'node:path';
import { APPLICATION_ID, DATABASE_FILE, openFile } from '../platform/database';
import { filesFolder } from '../platform/files';
import { checkStore, type CheckLine } from './check';

/** Copies a data folder into one file. Returns how many attachments it holds. */
export async function backup(dataFolder: string, target: string): Promise<number> {
  if (!existsSync(join(dataFolder, DATABASE_FILE))) throw new Error(`there is no database in ${dataFolder}`);
  const part = `${resolve(target)}.part`;
  rmSync(part, { force: true });
  const source = openFile(join(dataFolder, DATABASE_FILE), { readonly: true });
  await source.sqlite.backup(part);
  source.sqlite.close();
  const copy = openFile(part);
  copy.sqlite.exec('create table backup_file (checksum text primary key, content blob not null)');
  const insert = copy.sqlite.prepare('insert into backup_file (checksum, content) values (?, ?)');
  const folder = filesFolder(dataFolder);
  const names = existsSync(folder) ? readdirSync(folder).filter((name) => /^[0-9a-f]{64}$/.test(name)) : [];
  for (const name of names) insert.run(name, readFileSync(join(folder, name)));
  copy.sqlite.pragma('journal_mode = DELETE');
  copy.sqlite.close();
  renameSync(part, resolve(target));
  return names.length;
}

/** Checks a backup and puts it in the place of a data folder, whose old database is kept beside. */
export function restore(source: string, dataFolder: string, today: string): CheckLine[] {
  assertBackup(source);
  const fresh = join(dataFolder, `${DATABASE_FILE}.restoring`);
  mkdirSync(dataFolder, { recursive: true });
  writeFileSync(fresh, readFileSync(source));
  const copy = openFile(fresh);
  const lines = checkStore(copy, today);
  if (lines.every((each) => each.holds)) unpackFiles(copy, filesFolder(dataFolder));
  copy.sqlite.pragma('journal_mode = DELETE');
  copy.sqlite.close();
  if (lines.some((each) => !each.holds)) {
    rmSync(fresh);
    return lines;
  }
  const place = join(dataFolder, DATABASE_FILE);
  if (existsSync(place)) {
    const old = openFile(place);
    old.sqlite.pragma('wal_checkpoint(TRUNCATE)');
    old.sqlite.close();
    renameSync(place, `${place}.before-restore`);
  }
  for (const ending of ['-wal', '-shm']) rmSync(`${place}${ending}`, { force: true });
  renameSync(fresh, place);
  return lines;
}

function assertBackup(source: string): void {
  if (!existsSync(source)) throw new Error(`there is no file ${source}`);
  if (readFileSync(source).subarray(0, 15).toString('latin1') !== 'SQLite format 3')
    throw new Error(`${source} is no backup of Terrace: it is no database at all`);
  const store = openFile(source, { readonly: true });
  try {
    if (store.sqlite.pragma('application_id', { simple: true }) !== APPLICATION_ID)
      throw new Error(`${source} is a database, but not one of Terrace`);
    if (!store.sqlite.prepare("select 1 from sqlite_master where name = 'backup_file'").get())
      throw new Error(`${source} is a database of Terrace, but no backup: make one with "terrace backup"`);
  } finally {
    store.sqlite.close();
  }
}

function unpackFiles(copy: ReturnType<typeof openFile>, folder: string): void {
  mkdirSync(folder, { recursive: true });
  for (const row of copy.sqlite.prepare('select checksum, content from backup_file').iterate() as IterableIterator<{
    checksum: string;
    content: Buffer;
  }>) {
    const checksum = createHash('sha256').update(row.content).digest('hex');
    if (checksum !== row.checksum) throw new Error(`an attached file in the backup is damaged (${row.checksum})`);
    writeFileSync(join(folder, checksum), row.content);
  }
  copy.sqlite.exec('drop table backup_file');
}
