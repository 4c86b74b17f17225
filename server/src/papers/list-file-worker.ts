/**
 * Lists and whole kinds as files, read and written in a thread of its own: two hundred thousand rows take seconds, in which the
 * server goes on answering.
 */
import { join } from 'node:path';
import { move, transferableSymbol, valueSymbol } from 'piscina';
import type { ImportKind, ListQuery } from '@terrace/contract';
import { Refusal, guardCell } from '@terrace/core';
import { kindRows } from '../bulk';
import { openPlanToRead } from '../planning';
import { Commands } from '../platform/commands';
import { DATABASE_FILE, openFile, type Store } from '../platform/database';
import { atOneMoment, closeFile, isDamage } from '../platform/database-file';
import { drawList } from '../platform/list-paper';
import { companyOf } from '../platform/settings';
import { readColumns, textOf, writeCells, writeSheet } from '../platform/sheet';
import type { Actor, Work } from '../platform/work';
import { registerRooms } from '../rooms';
import { listServices } from './list-services';
import { giveWay } from '../platform/threads';

interface Asked {
  readonly dataFolder: string;
  readonly actor: Actor;
  readonly today: string;
  readonly now: string;
}

export interface ListTask extends Asked {
  readonly do: 'list';
  /** Address of the route below `/api`. */
  readonly path: string;
  /** What the list is called. */
  readonly title: string;
  readonly params: unknown;
  readonly query: ListQuery;
}

export interface KindTask extends Asked {
  readonly do: 'kind';
  readonly kind: ImportKind;
  readonly type: 'csv' | 'xlsx';
  readonly empty: boolean;
}

/** Neither a refusal nor a fault of the database can cross between threads as itself. */
export type FileAnswer =
  | { readonly fault: { readonly code: string; readonly message: string } }
  | { readonly done: { readonly type: string; readonly content: Uint8Array; readonly rows: number } }
  | { readonly refused: { readonly code: string; readonly message: string; readonly details: Readonly<Record<string, unknown>> } };

registerRooms();
giveWay();

const MOST_ROWS = 200_000;
const MOST_PAPER_ROWS = 2000;

interface Written {
  readonly type: string;
  readonly content: Buffer;
  readonly rows: number;
}

async function writeList(work: Work, commands: Commands, { path, title, params, query }: ListTask): Promise<Written> {
  const service = listServices(commands).get(path);
  if (!service) throw new RangeError(`nothing reads the list ${path}`);
  const all = atOneMoment(work.store, () => service(work, { params, body: {}, query: { ...query, offset: 0, limit: MOST_ROWS } }));
  const rows = all.rows as readonly Readonly<Record<string, unknown>>[];
  const columns = readColumns(query.columns, rows[0]);
  if (columns.length === 0) throw new Refusal('noColumns', 'There is no column to write.');
  if (query.file !== 'pdf') return { ...(await writeSheet(query.file ?? 'csv', columns, rows)), rows: rows.length };
  if (rows.length > MOST_PAPER_ROWS)
    throw new Refusal('tooManyRows', `${rows.length} rows are too many for paper: narrow the list to ${MOST_PAPER_ROWS}, or take it as CSV or XLSX.`);
  const { find = '' } = query;
  const content = await drawList({
    company: companyOf(work.store),
    title,
    day: work.today,
    narrowed: find === '' ? '' : `“${find}”`,
    columns: columns.map((each) => each.title),
    rows: rows.map((row) => columns.map(({ field }) => textOf(row[field]))),
  });
  return { type: 'pdf', content, rows: rows.length };
}

async function writeKind(work: Work, { kind, type, empty }: KindTask): Promise<Written> {
  const { columns, rows } = atOneMoment(work.store, () => kindRows(work, kind, empty));
  const cells = rows.map((row) => columns.map(({ key, type: of }) => (of === 'text' ? guardCell(row[key] ?? '') : (row[key] ?? ''))));
  const sheet = await writeCells(
    type,
    columns.map((each) => each.title),
    cells,
    columns.map((each) => each.type === 'number' || each.type === 'whole'),
  );
  return { ...sheet, rows: rows.length };
}

function opened(dataFolder: string): Store {
  const store = openFile(join(dataFolder, DATABASE_FILE), { readonly: true });
  try {
    store.plan = openPlanToRead(dataFolder);
  } catch (error) {
    // It is being made anew: lists that need it say so, the others go on.
    if (!isDamage(error)) throw error;
  }
  return store;
}

export default async function run(task: ListTask | KindTask): Promise<unknown> {
  const store = opened(task.dataFolder);
  try {
    const commands = new Commands(store, { today: () => task.today, now: () => task.now }, () => undefined);
    const work = commands.look(task.actor);
    const { content, ...rest } = task.do === 'list' ? await writeList(work, commands, task) : await writeKind(work, task);
    const bytes = new Uint8Array(content);
    const answer: FileAnswer = { done: { ...rest, content: bytes } };
    // Handed over, not copied.
    return move({ [transferableSymbol]: [bytes.buffer], [valueSymbol]: answer });
  } catch (error) {
    if (error instanceof Error && 'code' in error && typeof error.code === 'string' && !(error instanceof Refusal))
      return { fault: { code: error.code, message: error.message } } satisfies FileAnswer;
    if (!(error instanceof Refusal)) throw error;
    return { refused: { code: error.code, message: error.message, details: error.details } } satisfies FileAnswer;
  } finally {
    if (store.plan) closeFile(store.plan);
    closeFile(store);
  }
}
