/** Reads, tries and takes files in a thread of its own, so that the server goes on answering. */
import { createHash } from 'node:crypto';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import type { MessagePort } from 'node:worker_threads';
import type { ImportKind } from '@terrace/contract';
import { decimalSignOf, Refusal, type CellHabits } from '@terrace/core';
import { atOnce, closeFile, copyFile, mayLoseAll } from '../platform/database-file';
import { openFile } from '../platform/database';
import { registerRooms } from '../rooms';
import { setRow } from '../platform/rows';
import { Work, type Actor } from '../platform/work';
import { kinds } from './kinds';
import { importRun } from './schema';
import { clip, fileTypeOf, readSheet, type FileType } from './read-file';
import { NUMBER_MARK } from './read-xlsx';
import { recordsOf, Stopped, takeRecords, type Mapping, type Report } from './run-import';
import { answering, giveWay, type Answer } from '../platform/threads';

export interface ReadTask {
  readonly do: 'read';
  readonly path: string;
  readonly name: string;
}
export interface RunTask {
  readonly do: 'try' | 'take';
  readonly database: string;
  readonly path: string;
  readonly type: FileType;
  readonly kind: ImportKind;
  readonly importId: number;
  readonly number: string;
  readonly mapping: Mapping;
  readonly goodOnly: boolean;
  readonly report: string;
  readonly actor: Actor;
  readonly today: string;
  readonly now: string;
  readonly port: MessagePort;
  /** Set to 1 to stop. */
  readonly stop: SharedArrayBuffer;
}

export interface ReadOutcome {
  /** SHA-256 of the file. */
  readonly checksum: string;
  readonly type: FileType;
  readonly headings: readonly { readonly heading: string; readonly samples: readonly string[] }[];
  readonly rows: number;
  readonly habits: CellHabits;
}

/** What came of a file: it was read or run, or stopped on the way. */
export type ImportAnswer<T> = Answer<T | 'stopped'>;

registerRooms();
giveWay();

const SAMPLES = 4;

async function read({ path, name }: ReadTask): Promise<ReadOutcome> {
  const content = readFileSync(path);
  const type = fileTypeOf(name, content);
  const { headings, rows } = await readSheet(path, type);
  const columns = headings.map((heading, index) => {
    const samples: string[] = [];
    for (const row of rows) {
      const cell = (row.cells[index] ?? '').replace(NUMBER_MARK, '');
      if (cell !== '' && !samples.includes(cell)) samples.push(clip(cell));
      if (samples.length === SAMPLES) break;
    }
    return { heading, samples };
  });
  const some = rows.slice(0, 300).flatMap((row) => row.cells);
  const first = some.map((cell) => /^(\d{1,2})[/.-](\d{1,2})[/.-]\d{4}$/.exec(cell.trim()));
  const monthFirst = first.some((match) => Number(match?.[2]) > 12) && !first.some((match) => Number(match?.[1]) > 12);
  return {
    checksum: createHash('sha256').update(content).digest('hex'),
    type,
    headings: columns,
    rows: rows.length,
    habits: { decimals: type === 'xlsx' ? 'point' : decimalSignOf(some), dates: monthFirst ? 'monthFirst' : 'dayFirst' },
  };
}

async function run(task: RunTask): Promise<Report['counts']> {
  const kind = kinds[task.kind];
  const sheet = await readSheet(task.path, task.type);
  const flag = new Int32Array(task.stop);
  const goOn = (done: number): boolean => {
    task.port.postMessage(done);
    return Atomics.load(flag, 0) === 0;
  };
  const trying = task.do === 'try';
  const database = trying ? `${task.report}.db` : task.database;
  if (trying) {
    rmSync(database, { force: true });
    await copyFile(task.database, database);
  }
  const store = openFile(database, { timeout: 20_000 });
  try {
    if (trying) mayLoseAll(store);
    const work = new Work(store, task.actor, task.today, task.now);
    const report = atOnce(store, (): Report => {
      const records = recordsOf(kind, kind.columns(work), sheet, task.mapping);
      const outcome = takeRecords(work, kind, records, `import ${task.number}`, goOn);
      if (trying) return outcome;
      if (outcome.counts.refused > 0 && !task.goodOnly) {
        throw new Refusal(
          'someRefused',
          `${outcome.counts.refused} rows would be refused, so nothing was taken: mend them and try again, or take only the good rows.`,
        );
      }
      setRow(work, importRun, task.importId, { state: 'taken', ...outcome.counts });
      return outcome;
    });
    writeFileSync(task.report, JSON.stringify(report.rows));
    return report.counts;
  } finally {
    closeFile(store);
    if (trying) for (const ending of ['', '-wal', '-shm', '-journal']) rmSync(`${database}${ending}`, { force: true });
  }
}

export default function work(task: ReadTask | RunTask): Promise<ImportAnswer<ReadOutcome | Report['counts']>> {
  return answering(async () => {
    try {
      return task.do === 'read' ? await read(task) : await run(task);
    } catch (error) {
      if (error instanceof Stopped) return 'stopped';
      throw error;
    }
  });
}
