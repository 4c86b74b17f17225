/**
 * Files that come in and go out by themselves. What comes in is tried as by hand: taken where every row is good, else put
 * aside with a report beside it. A file is never taken twice, whatever is cut short: what was taken is known by its checksum.
 */
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, lstatSync, mkdirSync, readFileSync, readdirSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { and, eq, ne } from 'drizzle-orm';
import {
  api,
  importKinds,
  type AnyRoute,
  type BodyOf,
  type ImportKind,
  type ImportView,
  type ScheduledList,
  type SchedulesView,
} from '@terrace/contract';
import { Refusal, isBackupDue } from '@terrace/core';
import { importRun, type Imports } from '../bulk';
import type { Drawing } from '../papers';
import type { Commands } from '../platform/commands';
import { minutesIn } from '../platform/clock';
import { query } from '../platform/query';
import { addRow, changeRow, dropRow, fetching, setRow } from '../platform/rows';
import { fileSchedule, user } from '../platform/schema';
import { settingOf } from '../platform/settings';
import { writeCells } from '../platform/sheet';
import { PART } from '../platform/upload';
import { assertSeen } from '../platform/versions';
import { personNow } from '../platform/who';
import { NOBODY, type Actor, type Work } from '../platform/work';

const EVERY_MS = 60_000;
/** Who writes a file into the folder may need so long for it. */
const SETTLED_MS = 10_000;
const LOOK_MS = 100;
const LONGEST_MS = 600_000;
const MOST_REFUSED = 1000;
const LONGEST_NAME = 80;
const WRITING_MS = 300_000;

const LISTS: Readonly<Record<ScheduledList, AnyRoute>> = {
  stock: api.stores.explore,
  customerOrders: api.selling.listOrders,
  purchaseOrders: api.buying.listPurchases,
  productionOrders: api.production.listProduction,
  shipments: api.dispatch.listShipments,
  invoices: api.accounts.listInvoices,
  moves: api.stores.moves,
  suggestions: api.planning.listSuggestions,
};
const isKind = (kind: string): kind is ImportKind => (importKinds as readonly string[]).includes(kind);

const all = query(
  () => (db) =>
    db
      .select({ schedule: fileSchedule, who: user.name })
      .from(fileSchedule)
      .innerJoin(user, eq(user.id, fileSchedule.userId))
      .orderBy(fileSchedule.name),
);
const sameFolder = query(
  ($: { folder: string; id: number }) => (db) =>
    db
      .select({ name: fileSchedule.name })
      .from(fileSchedule)
      .where(and(eq(fileSchedule.folder, $.folder), ne(fileSchedule.id, $.id))),
);
const sameName = query(
  ($: { name: string; id: number }) => (db) =>
    db
      .select({ name: fileSchedule.name })
      .from(fileSchedule)
      .where(and(eq(fileSchedule.name, $.name), ne(fileSchedule.id, $.id))),
);
const takenBefore = query(
  ($: { kind: ImportKind; checksum: string }) => (db) =>
    db
      .select({ number: importRun.number })
      .from(importRun)
      .where(and(eq(importRun.kind, $.kind), eq(importRun.checksum, $.checksum), eq(importRun.state, 'taken'))),
);
const scheduleOf = fetching(fileSchedule, 'schedule');
type Row = typeof fileSchedule.$inferSelect;

const exchangeFolder = (dataFolder: string): string => join(dataFolder, 'exchange');

/** Adds or changes one, in the name of whoever asks. Refuses `staleVersion`, `alreadyThere`, `folderTaken`, `notIn`. */
export function saveSchedule(work: Work, dataFolder: string, { id, version, ...input }: BodyOf<typeof api.setup.saveSchedule>): void {
  const before = id === undefined ? undefined : scheduleOf(work, id);
  assertSeen(before, version, input.name);
  if (sameName.one(work, { name: input.name, id: id ?? 0 }))
    throw new Refusal('alreadyThere', `There is one called ${input.name} already.`, { field: 'name' });
  if (input.direction === 'in' && !isKind(input.kind))
    throw new Refusal('notIn', 'Such a list only goes out: choose what comes in.', { field: 'kind' });
  const other = sameFolder.one(work, { folder: input.folder, id: id ?? 0 });
  if (other) throw new Refusal('folderTaken', `${other.name} has this folder: each has one of its own.`, { field: 'folder' });
  mkdirSync(join(exchangeFolder(dataFolder), input.folder), { recursive: true, mode: 0o700 });
  const row = { ...input, userId: work.actor.id };
  if (id === undefined) addRow(work, fileSchedule, row);
  else changeRow(work, fileSchedule, id, row);
  work.record('setup', 0, `${before ? 'changed' : 'added'} the schedule ${input.name}: ${input.kind} ${input.direction}, exchange/${input.folder}`);
}

export interface ScheduleParts {
  readonly imports: Imports;
  readonly files: Drawing;
  readonly log: (message: string, about: object) => void;
}

export class FileSchedules {
  private running: Promise<void> = Promise.resolve();
  private timer: NodeJS.Timeout | undefined;
  private readonly ending = new AbortController();

  constructor(
    private readonly commands: Commands,
    private readonly dataFolder: string,
    private readonly parts: ScheduleParts,
  ) {}

  begin(): void {
    this.timer = setInterval(() => void this.look(), EVERY_MS).unref();
  }

  async close(): Promise<void> {
    clearInterval(this.timer);
    this.ending.abort();
    await this.running;
  }

  private get place(): string {
    return exchangeFolder(this.dataFolder);
  }

  view(work: Work): SchedulesView {
    const schedules = all.all(work).map(({ schedule: { userId: _, ...each }, who }) => ({ ...each, who })) as SchedulesView['schedules'];
    return { schedules, place: this.place };
  }

  save(work: Work, input: BodyOf<typeof api.setup.saveSchedule>): void {
    saveSchedule(work, this.dataFolder, input);
  }

  drop(work: Work, id: number): void {
    const { name } = scheduleOf(work, id);
    dropRow(work, fileSchedule, id);
    work.record('setup', 0, `dropped the schedule ${name}`);
  }

  /** Does what is due; whoever asks meanwhile waits for that. */
  look(now = Date.now()): Promise<void> {
    const minutes = minutesIn(settingOf(this.commands.store, 'timeZone'), new Date(now));
    const isDue = ({ direction, at, lastRun }: Row): boolean =>
      direction === 'in' || isBackupDue({ at, keep: 1 }, lastRun === null ? null : Date.parse(lastRun), now, minutes);
    return this.each((row) => row.active && isDue(row), now - SETTLED_MS);
  }

  /** Does one now, whether it is due or not. Refuses `notFound`. */
  async run(work: Work, id: number): Promise<void> {
    scheduleOf(work, id);
    await this.each((row) => row.id === id, Infinity);
  }

  private each(wanted: (row: Row) => boolean, settledBy: number): Promise<void> {
    this.running = this.running
      .then(async () => {
        for (const { schedule } of all.all(this.commands)) if (!this.ending.signal.aborted && wanted(schedule)) await this.do(schedule, settledBy);
      })
      .catch((error: unknown) => this.parts.log('files on a schedule can’t be looked after', { err: error }));
    return this.running;
  }

  private async do(row: Row, settledBy: number): Promise<void> {
    const actor = personNow(this.commands.store, row.userId);
    try {
      if (!actor) throw new Refusal('notActive', 'Who it is done for is not active any more: save it in another name.');
      if (row.direction === 'out') await this.note(row, await this.writeOut(row, actor), false);
      else
        for (const name of this.waiting(row, settledBy)) {
          const done = await this.takeIn(row, actor, name);
          if (done === null) return;
          await this.note(row, done.words, done.bad);
        }
    } catch (error) {
      if (!(error instanceof Refusal)) this.parts.log('a schedule failed', { err: error, schedule: row.name });
      await this.note(row, error instanceof Error ? error.message : 'It failed.', true);
    }
  }

  private async note(row: Row, words: string, bad: boolean): Promise<void> {
    await this.commands.performTogether(NOBODY, (work) => {
      setRow(work, fileSchedule, row.id, { lastRun: new Date().toISOString(), lastWords: words });
      work.touch('setup', 0, row.name);
      // The same again every minute is no news.
      if (bad && words !== row.lastWords) work.notify('keeping', `${row.name}: ${words}`, null);
    });
  }

  private folderOf({ folder }: Row): string {
    const path = join(this.place, folder);
    mkdirSync(path, { recursive: true, mode: 0o700 });
    return path;
  }

  /** Files that wait to be taken in, and that nobody is still writing. */
  private waiting(row: Row, settledBy: number): string[] {
    const folder = this.folderOf(row);
    return readdirSync(folder)
      .filter((name) => /^[^.].*\.(csv|txt|xlsx)$/i.test(name))
      .filter((name) => {
        const found = lstatSync(join(folder, name));
        return found.isFile() && found.mtimeMs <= settledBy;
      })
      .sort();
  }

  /** Takes a file in; nothing where another is being worked on and it has to wait. */
  private async takeIn(row: Row, actor: Actor, name: string): Promise<{ readonly words: string; readonly bad: boolean } | null> {
    if (!isKind(row.kind)) throw new Refusal('notIn', 'Such a list only goes out.');
    this.commands.look(actor).assertMay('bulk.import');
    const path = join(this.folderOf(row), name);
    const short = name.slice(-LONGEST_NAME);
    const checksum = createHash('sha256').update(readFileSync(path)).digest('hex');
    const before = takenBefore.one(this.commands, { kind: row.kind, checksum });
    if (before) return this.putAside(row, name, 'taken', `${short}: the same file was taken as ${before.number}`);
    const { imports } = this.parts;
    const copy = join(imports.folder, `${checksum}${PART}`);
    copyFileSync(path, copy);
    try {
      const read = await imports.receive(actor, row.kind, short, copy);
      const columns = Object.fromEntries(read.headings.map(({ heading, column }) => [heading, column]));
      await imports.tryOut(actor, read.id, columns, { decimals: read.decimals, dates: read.dates });
      const tried = await this.until(actor, read.id);
      const { added, changed, refused } = tried.counts;
      if (tried.state !== 'tried') return this.putAside(row, name, 'refused', `${short}: ${tried.problem}`);
      if (refused > 0) {
        this.report(actor, row, name, tried);
        return this.putAside(row, name, 'refused', `${short}: ${refused} of ${tried.rows} rows are refused, so nothing of it was taken`);
      }
      if (added + changed === 0) return this.putAside(row, name, 'taken', `${short}: nothing in it is new`);
      imports.take(actor, read.id, false);
      const taken = await this.until(actor, read.id);
      if (taken.state !== 'taken') return this.putAside(row, name, 'refused', `${short}: ${taken.problem}`);
      return this.putAside(row, name, 'taken', `${short}: ${added} added, ${changed} changed, as ${taken.number}`);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      // Somebody works on a file of theirs: this one waits for its turn.
      if (error.code === 'oneAtATime') return null;
      return this.putAside(row, name, 'refused', `${short}: ${error.message}`);
    } finally {
      imports.drop(copy);
    }
  }

  private async until(actor: Actor, id: number): Promise<ImportView> {
    const { signal } = this.ending;
    for (const began = Date.now(); ;) {
      const view = await this.parts.imports.load(actor, id);
      if (view.state !== 'trying' && view.state !== 'taking') return view;
      if (Date.now() - began > LONGEST_MS) throw new Refusal('tooLong', `${view.fileName} takes too long.`);
      await pause(LOOK_MS, undefined, { signal });
    }
  }

  private report(actor: Actor, row: Row, name: string, { id }: ImportView): void {
    const { rows } = this.parts.imports.rows(this.commands.look(actor), id, 'refused', 0, MOST_REFUSED);
    const folder = join(this.folderOf(row), 'refused');
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    const cells = rows.map((each) => [each.row, each.name, each.field, each.what]);
    void writeCells('csv', ['Row', 'Name', 'Column', 'Why'], cells)
      .then(({ content }) => writeFileSync(join(folder, `${name}.why.csv`), content))
      .catch((error: unknown) => this.parts.log('a report can’t be written', { err: error }));
  }

  private putAside(row: Row, name: string, where: 'taken' | 'refused', words: string): { readonly words: string; readonly bad: boolean } {
    const folder = join(this.folderOf(row), where);
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    let target = join(folder, name);
    for (let at = 2; existsSync(target); at += 1) target = join(folder, `${at}-${name}`);
    renameSync(join(this.folderOf(row), name), target);
    return { words, bad: where === 'refused' };
  }

  /** Writes a list or everything of a kind; a file of the same day is replaced once the new one is whole. */
  private async writeOut(row: Row, actor: Actor): Promise<string> {
    const work = this.commands.look(actor);
    const signal = AbortSignal.any([this.ending.signal, AbortSignal.timeout(WRITING_MS)]);
    const { files } = this.parts;
    let file: { readonly content: Buffer; readonly rows: number };
    if (isKind(row.kind)) {
      work.assertMay('catalogue.see');
      file = await files.kind(work, row.kind, 'csv', 'all', signal);
    } else {
      const route = LISTS[row.kind as ScheduledList];
      if (route.right !== 'public' && route.right !== 'signedIn') work.assertMay(route.right);
      file = await files.write(route, work, { params: {}, query: route.query.parse({ file: 'csv' }) as never }, signal);
    }
    const name = `${row.kind}-${work.today}.csv`;
    const target = join(this.folderOf(row), name);
    writeFileSync(`${target}${PART}`, file.content, { mode: 0o600 });
    renameSync(`${target}${PART}`, target);
    return `${name}: ${file.rows} rows`;
  }
}
