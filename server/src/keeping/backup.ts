/**
 * Backup and restore. A backup is one SQLite file: the database, copied online while it is in use, with the attached
 * files in a table of their own. A restore is checked before it takes the place of what is there.
 */
import { existsSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { join, resolve } from 'node:path';
import { blob, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { DATABASE_FILE, openFile } from '../platform/database';
import { closeAlone, closeFile, closeWhole, copyFile, dropTable, hasTable, isOurs, makeTables } from '../platform/database-file';
import { command, query } from '../platform/query';
import { filesFolder } from '../platform/files';
import { checkStore, type CheckLine } from './check';

/** The attached files within a backup, which the database itself has beside it as files. */
export const backupFile = sqliteTable('backup_file', { checksum: text().primaryKey(), content: blob({ mode: 'buffer' }).notNull() });
const addFile = command(
  ($: { checksum: string; content: Buffer }) => (db) => db.insert(backupFile).values({ checksum: $.checksum, content: $.content }),
);
const files = query(() => (db) => db.select().from(backupFile));

/** Copies a data folder into one file. Returns how many attachments it holds. */
export async function backup(dataFolder: string, target: string): Promise<number> {
  if (!existsSync(join(dataFolder, DATABASE_FILE))) throw new Error(`there is no database in ${dataFolder}`);
  const part = `${resolve(target)}.part`;
  rmSync(part, { force: true });
  await copyFile(join(dataFolder, DATABASE_FILE), part);
  const copy = openFile(part);
  makeTables(copy, [backupFile]);
  const folder = filesFolder(dataFolder);
  const names = existsSync(folder) ? readdirSync(folder).filter((name) => /^[0-9a-f]{64}$/.test(name)) : [];
  for (const name of names) addFile.run({ store: copy }, { checksum: name, content: readFileSync(join(folder, name)) });
  closeAlone(copy);
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
  closeAlone(copy);
  if (lines.some((each) => !each.holds)) {
    rmSync(fresh);
    return lines;
  }
  const place = join(dataFolder, DATABASE_FILE);
  if (existsSync(place)) {
    closeWhole(openFile(place));
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
    if (!isOurs(store)) throw new Error(`${source} is a database, but not one of Terrace`);
    if (!hasTable(store, backupFile)) throw new Error(`${source} is a database of Terrace, but no backup: make one with "terrace backup"`);
  } finally {
    closeFile(store);
  }
}

function unpackFiles(copy: ReturnType<typeof openFile>, folder: string): void {
  mkdirSync(folder, { recursive: true });
  for (const row of files.each({ store: copy })) {
    const checksum = createHash('sha256').update(row.content).digest('hex');
    if (checksum !== row.checksum) throw new Error(`an attached file in the backup is damaged (${row.checksum})`);
    writeFileSync(join(folder, checksum), row.content);
  }
  dropTable(copy, backupFile);
}
