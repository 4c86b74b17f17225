/**
 * Lists and whole kinds as files, read and written in a thread of its own: two hundred thousand rows take seconds, in which the
 * server goes on answering.
 */
import { move, transferableSymbol, valueSymbol } from 'piscina';
import type { ImportKind, ListQuery } from '@terrace/contract';
import { Refusal, guardCell } from '@terrace/core';
import { kindRows, type FileContent } from '../bulk';
import { closeKept, openKept } from '../planning';
import { Commands } from '../platform/commands';
import { atOneMoment } from '../platform/database-file';
import { drawList } from '../platform/list-paper';
import { companyOf } from '../platform/settings';
import { readColumns, textOf, writeCells, writeSheet } from '../platform/sheet';
import type { Actor, Work } from '../platform/work';
import { registerRooms } from '../rooms';
import { listServices } from './list-services';
import { answering, giveWay, type Answer } from '../platform/threads';

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
  readonly content: FileContent;
}

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

async function writeKind(work: Work, { kind, type, content }: KindTask): Promise<Written> {
  const { columns, rows } = atOneMoment(work.store, () => kindRows(work, kind, content));
  const cells = rows.map((row) => columns.map(({ key, type: of }) => (of === 'text' ? guardCell(row[key] ?? '') : (row[key] ?? ''))));
  const sheet = await writeCells(
    type,
    columns.map((each) => each.title),
    cells,
    columns.map((each) => each.type === 'number' || each.type === 'whole'),
  );
  return { ...sheet, rows: rows.length };
}

/** A file that was written, with its bytes. */
export type FileAnswer = Answer<{ readonly type: string; readonly content: Uint8Array; readonly rows: number }>;

export default async function run(task: ListTask | KindTask): Promise<unknown> {
  const bytes: Uint8Array[] = [];
  const answer: FileAnswer = await answering(async () => {
    const store = openKept(task.dataFolder);
    try {
      const commands = new Commands(store, { today: () => task.today, now: () => task.now }, () => undefined);
      const work = commands.look(task.actor);
      const { content, ...rest } = task.do === 'list' ? await writeList(work, commands, task) : await writeKind(work, task);
      bytes.push(new Uint8Array(content));
      return { ...rest, content: bytes[0] ?? new Uint8Array() };
    } finally {
      closeKept(store);
    }
  });
  // Handed over, not copied.
  return move({ [transferableSymbol]: bytes.map((each) => each.buffer), [valueSymbol]: answer });
}
