/**
 * Files that come in: read, mapped, tried on a copy of the database, then taken in one transaction. While a file is
 * taken, other commands wait for their turn; reading goes on.
 */
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { MessageChannel } from 'node:worker_threads';
import type { Piscina } from 'piscina';
import type { ImportKind, ImportRow, ImportState, ImportView, Outcome } from '@terrace/contract';
import { and, eq } from 'drizzle-orm';
import { Refusal, ownOf, type CellHabits } from '@terrace/core';
import { readVocabulary } from '../catalogue';
import { DATABASE_FILE } from '../platform/database';
import { sweepParts } from '../platform/parts';
import { answerOf, openPool, type Answer } from '../platform/threads';
import type { Commands } from '../platform/commands';
import { query } from '../platform/query';
import { addRow, fetching, keepRow, orNotFound } from '../platform/rows';
import type { Actor, Work } from '../platform/work';
import type { ImportAnswer, ReadOutcome, ReadTask, RunTask } from './import-worker';
import type { FileColumn } from './kind';
import { kinds } from './kinds';
import { importMapping, importRun } from './schema';
import type { Mapping } from './run-import';

interface Job {
  readonly file: Omit<ReadOutcome, 'checksum'>;
  state: ImportState;
  mapping: Mapping;
  done: number;
  counts: Readonly<Record<Outcome, number>>;
  problem: string;
  stop: SharedArrayBuffer | null;
  report: readonly ImportRow[] | null;
}

/** Longer than the largest file that is taken needs. */
const LONGEST_READING_MS = 60_000;
const MOST_MEGABYTES = 1024;

/** Whether a thread was ended because what it did took too long, or more memory than it may have. */
function isTooMuch(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  return error.name === 'AbortError' || error.name === 'TimeoutError' || ('code' in error && error.code === 'ERR_WORKER_OUT_OF_MEMORY');
}

const NONE = { added: 0, changed: 0, same: 0, refused: 0 } as const;

export class Imports {
  private readonly jobs = new Map<number, Job>();
  private readonly pool: Piscina;
  /** Where files are kept that have come in. */
  readonly folder: string;

  constructor(
    private readonly commands: Commands,
    private readonly dataFolder: string,
  ) {
    this.folder = join(dataFolder, 'imports');
    mkdirSync(this.folder, { recursive: true });
    // What a kill left of a dry run or of a file that was coming in.
    sweepParts(this.folder, /\.(part|db|db-\w+)$/);
    this.pool = openPool('import-worker', import.meta.url, { mostMegabytes: MOST_MEGABYTES });
  }

  /** Takes the file at a path in hand: keeps it, reads its headings and proposes where each goes. */
  async receive(actor: Actor, kind: ImportKind, name: string, path: string): Promise<ImportView> {
    const { checksum, ...file } = await this.read(path, name);
    const id = await this.commands.performTogether(actor, (work) => {
      const number = work.nextNumber('IM');
      return addRow(work, importRun, { number, kind, fileName: name, checksum, at: work.now, userId: actor.id, state: 'read' });
    });
    renameSync(path, this.pathOf(id));
    const work = this.commands.look(actor);
    this.jobs.set(id, jobFor(work, kind, file));
    return this.view(work, id);
  }

  /** Throws a file away that did not come in whole or was refused. */
  drop(path: string): void {
    rmSync(path, { force: true });
  }

  /** Reads a file where nobody waits for it; one that takes too long or too much is refused. */
  private async read(path: string, name: string): Promise<ReadOutcome> {
    const task: ReadTask = { do: 'read', path, name };
    try {
      return answerOf((await this.pool.run(task, { signal: AbortSignal.timeout(LONGEST_READING_MS) })) as Answer<ReadOutcome>);
    } catch (error) {
      if (error instanceof Refusal) throw error;
      if (isTooMuch(error))
        throw new Refusal('tooLarge', 'The file takes too long or too much room to read: cut it into several, or save it as CSV.', { field: 'file' });
      throw error;
    }
  }

  private pathOf(id: number): string {
    return join(this.folder, String(id));
  }

  /** How far a file is; one that is no longer in memory is read again. */
  async load(actor: Actor, id: number): Promise<ImportView> {
    const work = this.commands.look(actor);
    const record = recordOf(work, id);
    if (!this.jobs.has(id) && existsSync(this.pathOf(id)) && record.state !== 'taken') {
      this.jobs.set(id, jobFor(work, record.kind, await this.read(this.pathOf(id), record.fileName)));
    }
    return this.view(work, id);
  }

  view(work: Work, id: number): ImportView {
    const record = recordOf(work, id);
    const job = this.jobs.get(id);
    const columns = kinds[record.kind].columns(work);
    return {
      id,
      number: record.number,
      kind: record.kind,
      fileName: record.fileName,
      state: job?.state ?? record.state,
      done: job?.done ?? 0,
      rows: job?.file.rows ?? 0,
      counts: job?.counts ?? { added: record.added, changed: record.changed, same: record.same, refused: record.refused },
      headings: (job?.file.headings ?? []).map((each) => ({
        ...each,
        samples: [...each.samples],
        column: job ? (ownOf(job.mapping.columns, each.heading) ?? '') : '',
      })),
      columns: columns.map(({ key, title, needed = false, hint = '' }) => ({ key, title, needed, hint })),
      decimals: job?.mapping.habits.decimals ?? 'point',
      dates: job?.mapping.habits.dates ?? 'dayFirst',
      problem: job?.problem ?? '',
    };
  }

  /** Tries a file on a copy of the database. The mapping is remembered for files with the same headings. */
  async tryOut(actor: Actor, id: number, columns: Readonly<Record<string, string>>, habits: CellHabits): Promise<ImportView> {
    const job = this.free(id);
    const work = this.commands.look(actor);
    const record = recordOf(work, id);
    assertMapping(kinds[record.kind].columns(work), columns);
    job.mapping = { columns, habits };
    await this.commands.performTogether(actor, (writing) =>
      keepRow(writing, importMapping, ['kind', 'headings'], { kind: record.kind, headings: headingsKey(job.file), mapping: { columns, habits } }),
    );
    // Another may have begun while the mapping was kept.
    this.free(id);
    this.start(work, id, 'try', false);
    return this.view(work, id);
  }

  /** Takes a file that has been tried: all of it or nothing, or only the good rows. */
  take(actor: Actor, id: number, goodOnly: boolean): ImportView {
    const job = this.free(id);
    if (job.state !== 'tried') throw new Refusal('notTried', 'Try the file first: only what was shown is taken.');
    if (!goodOnly && job.counts.refused > 0)
      throw new Refusal('someRefused', `${job.counts.refused} rows are refused: mend them and try again, or take only the good rows.`);
    if (job.counts.added + job.counts.changed === 0) throw new Refusal('nothingChanges', 'Nothing of the file would be added or changed.');
    const work = this.commands.look(actor);
    this.start(work, id, 'take', goodOnly);
    return this.view(work, id);
  }

  stop(actor: Actor, id: number): ImportView {
    const job = this.jobs.get(id);
    if (job?.stop) Atomics.store(new Int32Array(job.stop), 0, 1);
    return this.view(this.commands.look(actor), id);
  }

  rows(work: Work, id: number, outcome: Outcome | undefined, offset: number, limit: number): { rows: ImportRow[]; total: number } {
    recordOf(work, id);
    const job = this.jobs.get(id);
    const file = `${this.pathOf(id)}.json`;
    const all = job?.report ?? (existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as ImportRow[]) : []);
    if (job) job.report = all;
    const chosen = outcome === undefined ? all : all.filter((each) => each.outcome === outcome);
    return { rows: chosen.slice(offset, offset + limit), total: chosen.length };
  }

  close(): Promise<void> {
    for (const job of this.jobs.values()) if (job.stop) Atomics.store(new Int32Array(job.stop), 0, 1);
    return this.pool.destroy();
  }

  private free(id: number): Job {
    const job = orNotFound(this.jobs.get(id), 'file in hand');
    if ([...this.jobs.values()].some((each) => each.stop !== null))
      throw new Refusal('oneAtATime', 'A file is being worked on already: wait until it is through, or stop it.');
    if (job.state === 'taken')
      throw new Refusal('takenAlready', 'This file has been taken already: send it in again if it is to be taken once more.');
    return job;
  }

  private start(work: Work, id: number, what: 'try' | 'take', goodOnly: boolean): void {
    const job = orNotFound(this.jobs.get(id), 'file in hand');
    const record = recordOf(work, id);
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (done: number) => (job.done = done));
    port1.unref();
    const stop = new SharedArrayBuffer(4);
    Object.assign(job, { state: what === 'try' ? 'trying' : 'taking', done: 0, problem: '', stop, report: null });
    const task: RunTask = {
      do: what,
      database: join(this.dataFolder, DATABASE_FILE),
      path: this.pathOf(id),
      type: job.file.type,
      kind: record.kind,
      importId: id,
      number: record.number,
      mapping: job.mapping,
      goodOnly,
      report: `${this.pathOf(id)}.json`,
      actor: work.actor,
      today: work.today,
      now: work.now,
      port: port2,
      stop,
    };
    // Nobody else writes while a file is taken: they wait, and find it done or not begun.
    const release = what === 'take' ? this.commands.hold() : () => undefined;
    void (this.pool.run(task, { transferList: [port2] }) as Promise<ImportAnswer<Job['counts']>>)
      .then((answer) => {
        const done = 'refused' in answer ? null : answerOf(answer);
        if (done === 'stopped') Object.assign(job, { state: what === 'try' ? 'stopped' : 'tried', problem: 'Stopped: nothing of it was taken.' });
        else if ('refused' in answer) Object.assign(job, { state: what === 'try' ? 'failed' : 'tried', problem: answer.refused.message });
        else Object.assign(job, { state: what === 'try' ? 'tried' : 'taken', counts: done });
      })
      .catch((error: unknown) => Object.assign(job, { state: 'failed', problem: error instanceof Error ? error.message : 'It failed.' }))
      .finally(() => {
        job.stop = null;
        port1.close();
        release();
        if (job.state !== 'taken') return;
        readVocabulary(this.commands.look(work.actor));
        this.commands.tell(work.actor, ['item', 'customer', 'supplier', 'stock', 'setup'], `import ${record.number}`);
      });
  }
}

const recordOf = fetching(importRun, 'import');
const mappingOf = query(
  ($: { kind: ImportKind; headings: string }) => (db) =>
    db
      .select({ mapping: importMapping.mapping })
      .from(importMapping)
      .where(and(eq(importMapping.kind, $.kind), eq(importMapping.headings, $.headings))),
);

function headingsKey(file: Job['file']): string {
  return JSON.stringify([...file.headings.map((each) => each.heading.toLowerCase())].sort());
}

/** A fresh job: where files with these headings went before, else where the headings say. */
function jobFor(work: Work, kind: ImportKind, file: Job['file']): Job {
  const kept = mappingOf.one(work, { kind, headings: headingsKey(file) });
  const mapping = kept ? kept.mapping : { columns: proposed(kinds[kind].columns(work), file), habits: file.habits };
  return { file, state: 'read', mapping, done: 0, counts: NONE, problem: '', stop: null, report: null };
}

const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '');

function proposed(columns: readonly FileColumn[], file: Job['file']): Record<string, string> {
  const mapping: Record<string, string> = {};
  const used = new Set<string>();
  for (const pass of [(column: FileColumn) => [column.title, column.key], (column: FileColumn) => column.known ?? []]) {
    for (const { heading } of file.headings) {
      if (Object.hasOwn(mapping, heading)) continue;
      const found = columns.find((column) => !used.has(column.key) && pass(column).some((name) => plain(name) === plain(heading)));
      if (!found) continue;
      mapping[heading] = found.key;
      used.add(found.key);
    }
  }
  return mapping;
}

function assertMapping(columns: readonly FileColumn[], mapping: Readonly<Record<string, string>>): void {
  const targets = Object.values(mapping).filter((each) => each !== '');
  const unknown = targets.find((each) => !columns.some((column) => column.key === each));
  if (unknown !== undefined) throw new Refusal('unknownColumn', `There is no column "${unknown}" to put anything in.`);
  const twice = targets.find((each, index) => targets.indexOf(each) !== index);
  if (twice !== undefined)
    throw new Refusal(
      'columnTwice',
      `Two columns of the file go to "${columns.find((column) => column.key === twice)?.title ?? twice}": choose one.`,
    );
  const missing = columns.filter((column) => column.needed && !targets.includes(column.key));
  if (missing.length > 0)
    throw new Refusal('columnsMissing', `No column of the file goes to ${missing.map((each) => `"${each.title}"`).join(', ')}: choose which does.`, {
      missing: missing.map((each) => each.key),
    });
}
