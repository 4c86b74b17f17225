/**
 * Backup and restore. A backup is one SQLite file: the database, copied online while it is in use, with the attached
 * files in a table of their own. A restore is checked before it takes the place of what is there.
 */
import { chmodSync, copyFileSync, existsSync, linkSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { join, resolve } from 'node:path';
import { inArray } from 'drizzle-orm';
import { blob, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { dropPlanFile } from '../planning';
import { DATABASE_FILE, openFile, openToLook } from '../platform/database';
import { closeAlone, closeFile, copyFile, dropTable, hasTable, isDamage, isOurs, makeTables, wipeWhatGoes } from '../platform/database-file';
import { command, query } from '../platform/query';
import { filesFolder } from '../platform/files';
import { MAIL_PASSWORD } from '../platform/mail-settings';
import { OUTBOX_FILE, outboxFolder } from '../platform/outbox';
import { makeForOwner } from '../platform/owner';
import { session, setting } from '../platform/schema';
import { companyClock } from '../platform/clock';
import { checkStore, type CheckLine } from './check';
import { isSealed, seal, unseal } from './sealed';

/** The attached files within a backup, which the database itself has beside it as files. */
export const backupFile = sqliteTable('backup_file', { checksum: text().primaryKey(), content: blob({ mode: 'buffer' }).notNull() });
const addFile = command(
  ($: { checksum: string; content: Buffer }) => (db) => db.insert(backupFile).values({ checksum: $.checksum, content: $.content }),
);
const files = query(() => (db) => db.select().from(backupFile));

/** What was mailed is named with the file, not by its checksum. */
const OUTBOX = 'outbox/';

const sessionsGone = command(() => (db) => db.delete(session));
const secretsGone = command(() => (db) => db.delete(setting).where(inArray(setting.key, ['sessionSecret', MAIL_PASSWORD])));

/** Copies a data folder into one file, encrypted where a passphrase is given. Returns how many attachments it holds. */
export async function backup(dataFolder: string, target: string, passphrase?: string): Promise<number> {
  makeForOwner();
  // What it is of, and that it is one.
  closeFile(openToLook(dataFolder));
  const place = resolve(target);
  const part = `${place}.part`;
  const parts = [part, `${part}-wal`, `${part}-shm`, `${part}-journal`, `${part}.sealed`];
  const sweep = (): void => {
    for (const each of parts) rmSync(each, { force: true });
  };
  sweep();
  try {
    await copyFile(join(dataFolder, DATABASE_FILE), part);
    const copy = openFile(part);
    // Nobody signs in with what they find in a backup.
    wipeWhatGoes(copy);
    sessionsGone.run({ store: copy });
    secretsGone.run({ store: copy });
    makeTables(copy, [backupFile]);
    const folder = filesFolder(dataFolder);
    const names = existsSync(folder) ? readdirSync(folder).filter((name) => /^[0-9a-f]{64}$/.test(name)) : [];
    for (const name of names) addFile.run({ store: copy }, { checksum: name, content: readFileSync(join(folder, name)) });
    const sent = outboxFolder(dataFolder);
    for (const name of existsSync(sent) ? readdirSync(sent).filter((each) => OUTBOX_FILE.test(each)) : [])
      addFile.run({ store: copy }, { checksum: `${OUTBOX}${name}`, content: readFileSync(join(sent, name)) });
    closeAlone(copy);
    if (passphrase === undefined) renameSync(part, place);
    else {
      await seal(part, `${part}.sealed`, passphrase);
      renameSync(`${part}.sealed`, place);
    }
    chmodSync(place, 0o600);
    return names.length;
  } finally {
    sweep();
  }
}

/** What came of a restore: the checks, and where what was there before is kept now. */
export interface Restored {
  readonly lines: CheckLine[];
  readonly kept: string | null;
}

/**
 * Checks a backup and puts it in the place of a data folder, whose old database is kept beside under a name of its own. Nobody
 * else may be at work in the folder: see {@link inFolder}. At any moment the folder has either the old company or the new one.
 */
export async function restore(source: string, dataFolder: string, fixedToday: string | null, passphrase?: string): Promise<Restored> {
  makeForOwner();
  if (!existsSync(source)) throw new Error(`there is no file ${source}`);
  mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
  const fresh = join(dataFolder, `${DATABASE_FILE}.restoring.part`);
  const sweep = (): void => {
    for (const ending of ['', '-wal', '-shm', '-journal']) rmSync(`${fresh}${ending}`, { force: true });
  };
  sweep();
  try {
    if (await isSealed(source)) await unseal(source, fresh, passphrase);
    else copyFileSync(source, fresh);
    assertBackup(source, fresh);
    const copy = openFile(fresh);
    let lines: CheckLine[];
    try {
      lines = checkStore(copy, companyClock(copy, fixedToday).today());
      if (lines.some((each) => !each.holds)) return { lines, kept: null };
      unpackFiles(copy, dataFolder);
    } finally {
      closeAlone(copy);
    }
    return { lines, kept: takePlace(fresh, join(dataFolder, DATABASE_FILE), dataFolder) };
  } finally {
    sweep();
  }
}

/** Puts a database in the place of another, which is kept beside; its name is given. */
function takePlace(fresh: string, place: string, dataFolder: string): string | null {
  let kept: string | null = null;
  if (existsSync(place)) {
    kept = freeName(`${place}.before-restore-${new Date().toISOString().slice(0, 19).replace(/[-:]/g, '')}Z`);
    foldLog(place);
    linkSync(place, kept);
  }
  renameSync(fresh, place);
  // What was planned was planned for the other.
  dropPlanFile(dataFolder);
  return kept;
}

/** What a database's log holds is written into it, so that it is one file alone; what is damaged is kept as it is. */
function foldLog(place: string): void {
  try {
    closeAlone(openFile(place));
  } catch (error) {
    if (!isDamage(error)) throw error;
    for (const ending of ['-wal', '-shm'])
      if (existsSync(`${place}${ending}`)) renameSync(`${place}${ending}`, freeName(`${place}${ending}.damaged`));
  }
}

function freeName(name: string): string {
  for (let at = 1; ; at += 1) {
    const tried = at === 1 ? name : `${name}-${at}`;
    if (!existsSync(tried)) return tried;
  }
}

function assertBackup(source: string, copy: string): void {
  if (readFileSync(copy).subarray(0, 15).toString('latin1') !== 'SQLite format 3')
    throw new Error(`${source} is no backup of Terrace: it is no database at all`);
  const store = openFile(copy, { readonly: true });
  try {
    if (!isOurs(store)) throw new Error(`${source} is a database, but not one of Terrace`);
    if (!hasTable(store, backupFile)) throw new Error(`${source} is a database of Terrace, but no backup: make one with "terrace backup"`);
  } finally {
    closeFile(store);
  }
}

function unpackFiles(copy: ReturnType<typeof openFile>, dataFolder: string): void {
  const [folder, sent] = [filesFolder(dataFolder), outboxFolder(dataFolder)];
  for (const each of [folder, sent]) mkdirSync(each, { recursive: true });
  for (const { checksum, content } of files.each({ store: copy })) {
    const mailed = checksum.startsWith(OUTBOX) ? checksum.slice(OUTBOX.length) : null;
    if (mailed !== null && OUTBOX_FILE.test(mailed)) writeFileSync(join(sent, mailed), content);
    else if (createHash('sha256').update(content).digest('hex') === checksum) writeFileSync(join(folder, checksum), content);
    else throw new Error(`an attached file in the backup is damaged (${checksum})`);
  }
  dropTable(copy, backupFile);
}
