/**
 * The whole company as one packed file of open ones: a CSV for every table, the settings as JSON, attachments as they are, and
 * a manifest that says what is in it, with a checksum for each. A company is founded from such a file: see `found-from.ts`.
 *
 * In a CSV, texts stand in quotation marks and figures do not; nothing at all between two commas is "not given".
 */
import {
  closeSync,
  createWriteStream,
  existsSync,
  mkdirSync,
  openSync,
  readFileSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { createHash } from 'node:crypto';
import { join, resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { stringify } from 'csv-stringify/sync';
import { getTableColumns, getTableName, is, sql } from 'drizzle-orm';
import { SQLiteTable, type SQLiteColumn } from 'drizzle-orm/sqlite-core';
import yazl from 'yazl';
import { z } from 'zod';
import { Refusal, readDecimal, toScale, writeDecimal } from '@terrace/core';
import { openToLook, type Store } from '../platform/database';
import { atOneMoment, closeFile } from '../platform/database-file';
import { columnName } from '../platform/expressions';
import { filesFolder } from '../platform/files';
import { MAIL_PASSWORD } from '../platform/mail-settings';
import { OUTBOX_FILE, outboxFolder } from '../platform/outbox';
import { shapeOf, tablesAsText } from '../platform/make-tables';
import { query } from '../platform/query';
import { fileSchedule, idempotency, invitation, session, setting, terminal, token } from '../platform/schema';
import { companyOf, currencyOf } from '../platform/settings';
import * as schema from '../schema';
import { SCALED, SCALES, type ScaleName } from './scaled-columns';

/** What lets somebody in, or stands for an answer that was given, is of this installation alone. */
const LEFT_OUT: readonly SQLiteTable[] = [session, token, terminal, invitation, idempotency, fileSchedule];
/** The columns and settings that let somebody in, or speak of this machine. */
const SECRET_COLUMNS = new Set(['user.password_hash', 'user.pin_hash', 'user.badge_hash']);
export const SECRET_SETTINGS = new Set([
  'sessionSecret',
  'demoPassword',
  'backup.last',
  'backup.good',
  'backup.schedule',
  'clock.latest',
  MAIL_PASSWORD,
]);

const columnKind = z.enum(['text', 'integer', 'boolean', 'json', 'quantity', 'amount', 'price', 'rate']);
type ColumnKind = z.output<typeof columnKind>;
export const FORMAT = 'Terrace company';
const checksum = z.string().regex(/^[0-9a-f]{64}$/);

export const manifestShape = z.object({
  format: z.literal(FORMAT),
  /** Tells which tables there are: only the same release of Terrace reads them. */
  shape: z.number().int(),
  company: z.string(),
  /** ISO 4217. */
  currency: z.string(),
  /** Moment in world time. */
  writtenAt: z.string(),
  /** In words: what somebody needs to know who reads this without Terrace. */
  about: z.array(z.string()),
  tables: z.array(
    z.object({
      name: z.string(),
      path: z.string(),
      rows: z.number().int(),
      sha256: checksum,
      columns: z.array(z.object({ name: z.string(), kind: columnKind, secret: z.boolean() })),
    }),
  ),
  settings: z.object({ path: z.string(), sha256: checksum }),
  attachments: z.array(z.object({ path: z.string(), bytes: z.number().int(), sha256: checksum })),
});
export type Manifest = z.output<typeof manifestShape>;

const ABOUT = [
  'One company of Terrace. tables/ has a CSV for each table: UTF-8, a comma between, texts in quotation marks, line ends as LF.',
  'Nothing between two commas is "not given"; "" is an empty text. Booleans are true and false, days YYYY-MM-DD, moments in world time.',
  'Quantities, amounts, prices and rates are decimals. Within JSON, quantities are hundred-thousandths, amounts hundredths, prices millionths.',
  'Passwords, tokens and sessions are left out: everybody chooses a password anew in a company that is founded from this.',
];

export interface ArchivedColumn {
  /** As the code names it. */
  readonly field: string;
  /** As the file names it. */
  readonly name: string;
  readonly kind: ColumnKind;
  readonly secret: boolean;
  readonly column: SQLiteColumn;
}

export interface ArchivedTable {
  readonly table: SQLiteTable;
  readonly name: string;
  readonly columns: readonly ArchivedColumn[];
}

function kindOf(key: string, field: string, column: SQLiteColumn): ColumnKind {
  const scaled = (SCALED as Readonly<Record<string, Readonly<Record<string, ScaleName>>>>)[key]?.[field];
  if (scaled !== undefined) return scaled;
  switch (column.dataType) {
    case 'boolean':
      return 'boolean';
    case 'json':
      return 'json';
    case 'number':
      return 'integer';
    case 'string':
      return 'text';
    default:
      throw new Error(`${getTableName(column.table)}.${field} is of a kind that no archive can hold`);
  }
}

/** Every table that an archive has; settings are a file of their own. */
export function archivedTables(): ArchivedTable[] {
  return Object.entries(schema).flatMap(([key, table]): ArchivedTable[] => {
    if (!is(table, SQLiteTable) || LEFT_OUT.includes(table) || (table as SQLiteTable) === setting) return [];
    const name = getTableName(table);
    const columns = Object.entries(getTableColumns(table) as Record<string, SQLiteColumn>).map(([field, column]) => {
      const file = columnName(column);
      return { field, name: file, kind: kindOf(key, field, column), secret: SECRET_COLUMNS.has(`${name}.${file}`), column };
    });
    return [{ table, name, columns }];
  });
}

/** Tells which tables this release has. */
export function shapeOfTables(): number {
  return shapeOf(tablesAsText(archivedTables().map(({ table }) => table)));
}

const isScaled = (kind: ColumnKind): kind is ScaleName => kind in SCALES;

/** A value as it stands in a file. */
export function cellOf({ kind, secret, column }: ArchivedColumn, value: unknown): string | number | null {
  if (secret) return column.notNull ? '' : null;
  if (kind === 'json') return value === null && !column.notNull ? null : JSON.stringify(value);
  if (value === null) return null;
  if (typeof value === 'boolean') return value ? 'true' : 'false';
  if (typeof value === 'number') return isScaled(kind) ? writeDecimal(BigInt(value), SCALES[kind]) : value;
  return value as string;
}

/** What a cell says, `null` where it says nothing. Refuses `unreadable` where it can't be of that kind. */
export function valueOf({ name, kind }: Pick<ArchivedColumn, 'name' | 'kind'>, cell: string | null): unknown {
  if (cell === null || kind === 'text') return cell;
  const wrong = (): Refusal => new Refusal('unreadable', `“${cell.slice(0, 60)}” in the column ${name} is no ${kind}.`);
  if (kind === 'boolean') {
    if (cell !== 'true' && cell !== 'false') throw wrong();
    return cell === 'true';
  }
  if (kind === 'json') {
    try {
      return JSON.parse(cell) as unknown;
    } catch (error) {
      throw error instanceof SyntaxError ? wrong() : error;
    }
  }
  const decimal = readDecimal(cell);
  const whole = decimal && toScale(decimal, isScaled(kind) ? SCALES[kind] : 0);
  if (whole === null || whole === undefined || !Number.isSafeInteger(Number(whole))) throw wrong();
  return Number(whole);
}

const CHUNK = 2000;
const everyRow = new WeakMap<SQLiteTable, ReturnType<typeof rowsOf>>();
const rowsOf = (table: SQLiteTable) =>
  query(
    () => (db) =>
      db
        .select()
        .from(table)
        .orderBy(sql`rowid`),
  );
const settings = query(() => (db) => db.select().from(setting).orderBy(setting.key));

/** Writes a table row by row; says how many, and what the file's checksum is. */
function writeTable(store: Store, { table, columns }: ArchivedTable, path: string): { readonly rows: number; readonly sha256: string } {
  const sum = createHash('sha256');
  const file = openSync(path, 'wx', 0o600);
  const put = (cells: readonly (readonly (string | number | null)[])[]): void => {
    const text = stringify([...cells], { quoted_string: true });
    sum.update(text);
    writeSync(file, text);
  };
  const known = everyRow.get(table) ?? rowsOf(table);
  everyRow.set(table, known);
  try {
    put([columns.map(({ name }) => name)]);
    let rows = 0;
    let chunk: (string | number | null)[][] = [];
    for (const row of known.each({ store })) {
      chunk.push(columns.map((each) => cellOf(each, (row as Readonly<Record<string, unknown>>)[each.field])));
      rows += 1;
      if (chunk.length < CHUNK) continue;
      put(chunk);
      chunk = [];
    }
    if (chunk.length > 0) put(chunk);
    return { rows, sha256: sum.digest('hex') };
  } finally {
    closeSync(file);
  }
}

export const fileSum = (content: Buffer | string): string => createHash('sha256').update(content).digest('hex');

/** Folders of files beside the database, by what they are called in an archive, and which files of theirs belong to the company. */
export const FOLDERS = [
  { name: 'attachments', of: filesFolder, file: /^[0-9a-f]{64}$/ },
  { name: 'outbox', of: outboxFolder, file: OUTBOX_FILE },
] as const;

function attachmentsOf(dataFolder: string): Manifest['attachments'] {
  return FOLDERS.flatMap(({ name, of, file }) => {
    const folder = of(dataFolder);
    const files = existsSync(folder) ? readdirSync(folder).filter((each) => file.test(each)) : [];
    return files.map((each) => {
      const content = readFileSync(join(folder, each));
      const sha256 = fileSum(content);
      if (name === 'attachments' && sha256 !== each) throw new Error(`an attached file is damaged: ${join(folder, each)} is not what was attached`);
      return { path: `${name}/${each}`, bytes: content.length, sha256 };
    });
  });
}

/** Where a file of an archive lies in a data folder; `null` where it is none that belongs there. */
export function placeOf(path: string, dataFolder: string): string | null {
  const [name, file = '', ...more] = path.split('/');
  const folder = FOLDERS.find((each) => each.name === name);
  return folder && more.length === 0 && folder.file.test(file) ? join(folder.of(dataFolder), file) : null;
}

/** Writes everything into a folder, as it is at one moment; attachments stay where they are and are named. */
function writeParts(store: Store, dataFolder: string, folder: string, writtenAt: string): Manifest {
  return atOneMoment(store, () => {
    mkdirSync(join(folder, 'tables'), { recursive: true, mode: 0o700 });
    const tables = archivedTables().map((each) => {
      const path = `tables/${each.name}.csv`;
      const columns = each.columns.map(({ name, kind, secret }) => ({ name, kind, secret }));
      return { name: each.name, path, ...writeTable(store, each, join(folder, path)), columns };
    });
    const kept = settings.all({ store }).filter(({ key }) => !SECRET_SETTINGS.has(key));
    const words = JSON.stringify(Object.fromEntries(kept.map(({ key, value }) => [key, value])), null, 1);
    writeFileSync(join(folder, 'settings.json'), words, { mode: 0o600 });
    return {
      format: FORMAT,
      shape: shapeOfTables(),
      company: companyOf(store),
      currency: currencyOf(store),
      writtenAt,
      about: ABOUT,
      tables,
      settings: { path: 'settings.json', sha256: fileSum(words) },
      attachments: attachmentsOf(dataFolder),
    };
  });
}

export interface Archived {
  readonly bytes: number;
  readonly tables: number;
  readonly rows: number;
  readonly attachments: number;
}

/** Writes the company of a data folder into one file, while it is in use or not. A file of that name is replaced when the new one is whole. */
export async function writeArchive(dataFolder: string, target: string, writtenAt: string): Promise<Archived> {
  const place = resolve(target);
  const part = `${place}.part`;
  const folder = `${part}.d`;
  const sweep = (): void => {
    rmSync(part, { force: true });
    rmSync(folder, { recursive: true, force: true });
  };
  sweep();
  const store = openToLook(dataFolder);
  try {
    const manifest = writeParts(store, dataFolder, folder, writtenAt);
    const zip = new yazl.ZipFile();
    zip.addBuffer(Buffer.from(JSON.stringify(manifest, null, 1)), 'manifest.json');
    for (const { path } of [manifest.settings, ...manifest.tables]) zip.addFile(join(folder, path), path);
    for (const { path } of manifest.attachments) {
      const from = placeOf(path, dataFolder);
      if (from !== null) zip.addFile(from, path, { compress: false });
    }
    zip.end();
    await pipeline(zip.outputStream, createWriteStream(part, { mode: 0o600 }));
    renameSync(part, place);
    const rows = manifest.tables.reduce((sum, each) => sum + each.rows, 0);
    return { bytes: statSync(place).size, tables: manifest.tables.length, rows, attachments: manifest.attachments.length };
  } finally {
    closeFile(store);
    sweep();
  }
}
