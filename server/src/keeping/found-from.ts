/**
 * A company founded from an archive: what is in it is checked against its manifest, put into an empty database in one
 * transaction, and kept only where every check holds.
 */
import { createWriteStream, mkdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { parse } from 'csv-parse/sync';
import { eq } from 'drizzle-orm';
import type { SQLiteTable } from 'drizzle-orm/sqlite-core';
import { z } from 'zod';
import { Refusal, normalLogin } from '@terrace/core';
import type { Store } from '../platform/database';
import { atOnce, referencesLater } from '../platform/database-file';
import { Packed } from '../platform/packed';
import { query } from '../platform/query';
import { addRow, dropRows, setRow } from '../platform/rows';
import { audit, role, user, userRole } from '../platform/schema';
import { keepSetting } from '../platform/settings';
import { isFounded } from '../platform/who';
import { itemUse, reservedStock } from '../schema';
import {
  FOLDERS,
  FORMAT,
  SECRET_SETTINGS,
  archivedTables,
  fileSum,
  manifestShape,
  placeOf,
  shapeOfTables,
  valueOf,
  type ArchivedTable,
  type Manifest,
} from './archive';
import { checkStore } from './check';

const MOST_UNPACKED = 8 * 1024 ** 3;
const MOST_PARTS = 200_000;
const MOST_MANIFEST = 64 * 1024 ** 2;
const field = { field: 'file' };
const unreadable = (words: string): Refusal => new Refusal('unreadable', words, field);

/** Who founds it: one who looks after the company in the archive. */
export interface Founder {
  readonly login: string;
  readonly passwordHash: string;
}

async function bytesOf(packed: Packed, path: string, most: number): Promise<Buffer> {
  const stream = packed.read(path);
  if (!stream) throw unreadable(`There is no ${path} in this file: it is no archive of Terrace, or a part of it is missing.`);
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of await stream) {
    size += (chunk as Buffer).length;
    if (size > most) throw unreadable(`${path} is larger than it can be.`);
    chunks.push(chunk as Buffer);
  }
  return Buffer.concat(chunks);
}

/** Unpacks a part, as it is said to be. */
async function unpack(packed: Packed, path: string, to: string, most: number): Promise<void> {
  const stream = packed.read(path);
  if (!stream) throw unreadable(`${path} is named in the manifest, and missing in the file.`);
  let size = 0;
  const within = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      size += chunk.length;
      done(size > most ? unreadable(`${path} is larger than its manifest says.`) : null, chunk);
    },
  });
  await pipeline(await stream, within, createWriteStream(to, { mode: 0o600 }));
}

async function manifestOf(packed: Packed): Promise<Manifest> {
  const text = (await bytesOf(packed, 'manifest.json', MOST_MANIFEST)).toString('utf8');
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    throw unreadable('The manifest of this file is no JSON: it is no archive of Terrace, or it is damaged.');
  }
  if ((json as { format?: unknown } | null)?.format !== FORMAT) throw unreadable('This is a packed file, but no archive of a company of Terrace.');
  const read = manifestShape.safeParse(json);
  if (!read.success) throw unreadable(`The manifest can’t be read: ${read.error.issues[0]?.path.join('.') ?? ''} is not as it has to be.`);
  if (read.data.shape !== shapeOfTables())
    throw new Refusal(
      'otherRelease',
      'The archive was written by another release of Terrace, with other tables. Write it again with this one: bring the other company up to date first.',
      field,
    );
  return read.data;
}

/** Reads an archive into a folder: every part is there and is what the manifest says. Refuses `unreadable`, `otherRelease`. */
export async function unpackArchive(path: string, folder: string): Promise<Manifest> {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(join(folder, 'tables'), { recursive: true, mode: 0o700 });
  for (const { name } of FOLDERS) mkdirSync(join(folder, name), { mode: 0o700 });
  let packed: Packed;
  try {
    packed = await Packed.open(path, ({ parts, said }) => {
      if (parts > MOST_PARTS || said > MOST_UNPACKED) throw unreadable('The file would unpack to more than 8 GB: that is no archive of a company.');
    });
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw unreadable(`The file can’t be read as a packed one (ZIP): ${error instanceof Error ? error.message : 'it is broken'}.`);
  }
  try {
    const manifest = await manifestOf(packed);
    const known = new Map(archivedTables().map((each) => [each.name, each]));
    const parts: { readonly path: string; readonly sha256: string; readonly most: number }[] = [
      { ...manifest.settings, most: MOST_MANIFEST },
      ...manifest.tables.map(({ path: part, sha256 }) => ({ path: part, sha256, most: MOST_UNPACKED })),
      ...manifest.attachments.map(({ path: part, sha256, bytes }) => ({ path: part, sha256, most: bytes })),
    ];
    const named = manifest.tables.map(({ name }) => name);
    const missing = [...known.keys()].filter((name) => !named.includes(name));
    if (missing.length > 0 || named.some((name) => !known.has(name)) || new Set(named).size !== named.length)
      throw unreadable(`The manifest does not name the tables that a company has${missing.length > 0 ? `: ${missing.join(', ')} missing` : ''}.`);
    const asNamed =
      manifest.settings.path === 'settings.json' &&
      manifest.tables.every(({ name, path: part }) => part === `tables/${name}.csv`) &&
      manifest.attachments.every(
        ({ path: part, sha256 }) => placeOf(part, folder) !== null && (part.startsWith('outbox/') || part === `attachments/${sha256}`),
      );
    if (!asNamed) throw unreadable('The parts of the file do not have the names that they have in an archive.');
    for (const part of parts) {
      await unpack(packed, part.path, join(folder, part.path), part.most);
      if (fileSum(readFileSync(join(folder, part.path))) !== part.sha256)
        throw unreadable(`${part.path} was changed since the archive was written: its checksum is another.`);
    }
    return manifest;
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw unreadable(`The file can’t be unpacked: ${error instanceof Error ? error.message : 'it is broken'}.`);
  } finally {
    packed.close();
  }
}

function* rowsIn(folder: string, { name, columns }: ArchivedTable): Generator<Record<string, unknown>> {
  const text = readFileSync(join(folder, 'tables', `${name}.csv`), 'utf8');
  const cells = parse(text, { relax_column_count: false, cast: (value, { quoting }) => (value === '' && !quoting ? null : value) });
  const [headings = [], ...rows] = cells as (string | null)[][];
  const places = columns.map((column) => {
    const at = headings.indexOf(column.name);
    if (at < 0) throw unreadable(`tables/${name}.csv has no column ${column.name}.`);
    return { column, at };
  });
  for (const row of rows) yield Object.fromEntries(places.map(({ column, at }) => [column.field, valueOf(column, row[at] ?? null)]));
}

/** Tables that the database itself brings up to date when rows of others are added. */
const FOLLOWING: readonly SQLiteTable[] = [itemUse, reservedStock];
const settingsShape = z.record(z.string(), z.string());
const byLogin = query(($: { login: string }) => (db) => db.select({ id: user.id, active: user.active }).from(user).where(eq(user.login, $.login)));
const everything = query(
  ($: { userId: number }) => (db) =>
    db.select({ everything: role.everything }).from(userRole).innerJoin(role, eq(role.id, userRole.roleId)).where(eq(userRole.userId, $.userId)),
);

/** The founder's number. Refuses `notTheirs` unless they look after the company. */
function founderIn(store: Store, login: string): number {
  const person = byLogin.one({ store }, { login: normalLogin(login) });
  if (!person?.active || !everything.all({ store }, { userId: person.id }).some((each) => each.everything))
    throw new Refusal('notTheirs', `In the archive nobody who looks after the company signs in as “${login}”. Give the name of its administrator.`, {
      field: 'login',
    });
  return person.id;
}

/**
 * Puts an unpacked archive into a database in which nobody has founded a company yet, and lets its administrator in by a new
 * password. All of it or nothing. Refuses `founded`, `notTheirs`, `unreadable`.
 */
export function loadArchive(store: Store, folder: string, manifest: Manifest, { founder, today }: { founder: Founder; today: string }): void {
  const source = { store };
  atOnce(store, () => {
    if (isFounded(store)) throw new Refusal('founded', 'The company is founded: sign in, or ask whoever did it.');
    referencesLater(store);
    const tables = archivedTables();
    const follows = ({ table }: ArchivedTable): boolean => FOLLOWING.includes(table);
    for (const each of [...tables.filter((one) => !follows(one)), ...tables.filter(follows)]) {
      const expected = manifest.tables.find(({ name }) => name === each.name)?.rows ?? 0;
      if (follows(each)) dropRows(source, each.table, {});
      let rows = 0;
      for (const { id, ...row } of rowsIn(folder, each)) {
        // Whoever tried the door before is in the log already.
        addRow(source, each.table, each.table === audit || id === undefined ? row : { id, ...row });
        rows += 1;
      }
      if (rows !== expected) throw unreadable(`tables/${each.name}.csv has ${rows} rows, and the manifest says ${expected}.`);
    }
    const kept = settingsShape.parse(JSON.parse(readFileSync(join(folder, 'settings.json'), 'utf8')));
    for (const [key, value] of Object.entries(kept)) if (!SECRET_SETTINGS.has(key)) keepSetting(store, key, value);
    setRow(source, user, founderIn(store, founder.login), { passwordHash: founder.passwordHash });
    const wrong = checkStore(store, today).filter(({ holds }) => !holds);
    if (wrong.length > 0)
      throw unreadable(`What is in the archive does not hold together: ${wrong.map(({ check, detail }) => `${check} (${detail})`).join('; ')}.`);
  });
}

/** Puts the attachments of an unpacked archive where they belong. */
export function placeAttachments(folder: string, manifest: Manifest, dataFolder: string): void {
  for (const { of } of FOLDERS) mkdirSync(of(dataFolder), { recursive: true, mode: 0o700 });
  for (const { path } of manifest.attachments) {
    const place = placeOf(path, dataFolder);
    if (place !== null) renameSync(join(folder, path), place);
  }
}
