/** Backups by themselves: made when they are due, checked, the oldest dropped; what went wrong is told. */
import { existsSync, mkdirSync, readdirSync, rmSync, statSync, statfsSync } from 'node:fs';
import { isAbsolute, join, resolve } from 'node:path';
import { sql } from 'drizzle-orm';
import type { SQLiteTable } from 'drizzle-orm/sqlite-core';
import type { Piscina } from 'piscina';
import type { BackupLook, BodyOf, Keeping, api } from '@terrace/contract';
import { Refusal, backupsToDrop, isBackupDue, isBackupOld } from '@terrace/core';
import { customer, item } from '../catalogue';
import type { Commands } from '../platform/commands';
import { minutesIn } from '../platform/clock';
import { openFile } from '../platform/database';
import { closeAlone } from '../platform/database-file';
import { sweepParts } from '../platform/parts';
import { query } from '../platform/query';
import { history, user } from '../platform/schema';
import { companyOf, keepSetting, settingOf } from '../platform/settings';
import { answerOf, openPool, type Answer } from '../platform/threads';
import { NOBODY, type Work } from '../platform/work';
import { customerOrder } from '../selling';
import type { BackupMade, BackupTask } from './backup-worker';
import { isSealed } from './sealed';

type Schedule = BodyOf<typeof api.setup.saveBackups>;
const PROPOSED: Schedule = { on: true, at: '02:00', keep: 14, folder: 'backups' };
const NAME = /^terrace-\d{8}-\d{6}\.backup$/;
/** Nobody who has just started the machine waits for a backup; after that it is looked at every minute. */
const FIRST_MS = 600_000;
const EVERY_MS = 60_000;
const TOLD_EVERY_MS = 24 * 3_600_000;

interface Last {
  readonly name: string;
  readonly at: string;
  readonly good: boolean;
  readonly words: string;
}

const rowsIn = (table: SQLiteTable) => query(() => (db) => db.select({ n: sql<number>`count(*)` }).from(table));
const counted = {
  people: rowsIn(user),
  items: rowsIn(item),
  customers: rowsIn(customer),
  'customer orders': rowsIn(customerOrder),
  'things done': rowsIn(history),
};
const latest = query(() => (db) => db.select({ at: sql<string | null>`max(${history.at})` }).from(history));

export class BackupKeeper {
  private readonly pool: Piscina = openPool('backup-worker', import.meta.url);
  private running: Promise<void> | null = null;
  private timer: NodeJS.Timeout | undefined;
  private toldAt = 0;

  constructor(
    private readonly commands: Commands,
    private readonly dataFolder: string,
    private readonly parts: {
      readonly passphrase: string | undefined;
      readonly restore?: ((file: string) => void) | undefined;
      readonly log: (message: string, about: object) => void;
    },
  ) {}

  /** Looks from now on whether one is due. */
  begin(): void {
    const again = (ms: number): void => {
      this.timer = setTimeout(() => {
        void this.lookAfter()
          .catch((error: unknown) => this.parts.log('the backups can’t be looked after', { err: error }))
          .finally(() => again(EVERY_MS));
      }, ms).unref();
    };
    again(FIRST_MS);
  }

  async close(): Promise<void> {
    clearTimeout(this.timer);
    await this.running;
    await this.pool.destroy();
  }

  /** Makes one where it is due, and says where the last good one is old. */
  async lookAfter(now = Date.now()): Promise<void> {
    const { schedule, lastGood } = this.kept();
    if (!schedule.on) return;
    const minutes = minutesIn(settingOf(this.commands.store, 'timeZone'), new Date(now));
    const last = lastGood === null ? null : Date.parse(lastGood);
    if (isBackupDue(schedule, last, now, minutes)) await this.make();
    const after = this.kept().lastGood;
    if (!isBackupOld(after === null ? null : Date.parse(after), now) || now - this.toldAt < TOLD_EVERY_MS) return;
    this.toldAt = now;
    const since = after === null ? 'there has never been one' : `the last is of ${after.slice(0, 16).replace('T', ' ')}`;
    this.tell(`No good backup: ${since}. See Set-up, Backups.`);
  }

  private tell(words: string): void {
    void this.commands
      .performTogether(NOBODY, (work) => work.notify('keeping', words, null))
      .catch((error: unknown) => this.parts.log('nobody could be told of the backup', { err: error }));
  }

  private kept(): { readonly schedule: Schedule; readonly last: Last | null; readonly lastGood: string | null } {
    const { store } = this.commands;
    const read = (key: string): unknown => JSON.parse(settingOf(store, key) ?? 'null');
    return {
      schedule: { ...PROPOSED, ...(read('backup.schedule') as Schedule | null) },
      last: read('backup.last') as Last | null,
      lastGood: settingOf(store, 'backup.good'),
    };
  }

  private placeOf({ folder }: Pick<Schedule, 'folder'>): string {
    return isAbsolute(folder) ? folder : resolve(this.dataFolder, folder);
  }

  private namesIn(place: string): string[] {
    return existsSync(place) ? readdirSync(place).filter((name) => NAME.test(name)) : [];
  }

  view(): Keeping {
    const { schedule, last, lastGood } = this.kept();
    const place = this.placeOf(schedule);
    const { bavail, blocks, bsize } = statfsSync(this.dataFolder);
    return {
      schedule,
      place,
      lastGood,
      old: isBackupOld(lastGood === null ? null : Date.parse(lastGood), Date.now()),
      last: last?.words ?? '',
      running: this.running !== null,
      backups: this.namesIn(place)
        .sort()
        .reverse()
        .map((name) => ({ name, bytes: statSync(join(place, name)).size })),
      disk: { free: bavail * bsize, total: blocks * bsize },
    };
  }

  /** Changes when and where. Refuses `badFolder` where nothing can be written there. */
  save(work: Work, schedule: Schedule): void {
    const place = this.placeOf(schedule);
    if (place === resolve(this.dataFolder))
      throw new Refusal('badFolder', 'The data itself lies there: name a folder of its own, better yet on another disk.', { field: 'folder' });
    try {
      mkdirSync(place, { recursive: true, mode: 0o700 });
    } catch (error) {
      const why = error instanceof Error && 'code' in error ? String(error.code) : 'unknown';
      throw new Refusal('badFolder', `${place} can’t be made or written to (${why}).`, { field: 'folder' });
    }
    keepSetting(work.store, 'backup.schedule', JSON.stringify(schedule));
    work.record('setup', 0, schedule.on ? `backups at ${schedule.at}, ${schedule.keep} kept, in ${schedule.folder}` : 'no backups by themselves');
  }

  /** Makes one; whoever asks while one is made waits for that. */
  async make(): Promise<void> {
    this.running ??= this.makeOne().finally(() => (this.running = null));
    await this.running;
  }

  private async makeOne(): Promise<void> {
    const { schedule } = this.kept();
    const place = this.placeOf(schedule);
    const { clock } = this.commands;
    const now = new Date();
    const name = `terrace-${now.toISOString().slice(0, 19).replace(/[-:]/g, '').replace('T', '-')}.backup`;
    const target = join(place, name);
    let last: Last;
    try {
      mkdirSync(place, { recursive: true, mode: 0o700 });
      // What a kill has left of one.
      sweepParts(place);
      const { passphrase } = this.parts;
      const task: BackupTask = { dataFolder: this.dataFolder, target, today: clock.today(), ...(passphrase === undefined ? {} : { passphrase }) };
      const { bytes, wrong } = answerOf((await this.pool.run(task)) as Answer<BackupMade>);
      const good = wrong.length === 0;
      const words = good ? `${name}: ${(bytes / 1e6).toFixed(1)} MB, opened and checked` : `${name} is not good: ${wrong.join('; ')}`;
      last = { name, at: now.toISOString(), good, words };
    } catch (error) {
      if (existsSync(target)) rmSync(target);
      last = { name, at: now.toISOString(), good: false, words: `No backup could be made: ${error instanceof Error ? error.message : 'unknown'}` };
    }
    await this.commands.performTogether(NOBODY, (work) => {
      keepSetting(work.store, 'backup.last', JSON.stringify(last));
      if (last.good) keepSetting(work.store, 'backup.good', last.at);
      else work.notify('keeping', last.words, null);
      work.record('setup', 0, last.words);
    });
    // Only a good one lets an older one go.
    if (last.good) for (const each of backupsToDrop(this.namesIn(place), schedule.keep)) rmSync(join(place, each), { force: true });
    else this.parts.log('the backup is not good', { backup: last.words });
  }

  private pathOf(name: string): string {
    const file = join(this.placeOf(this.kept().schedule), name);
    if (!existsSync(file)) throw new Refusal('notFound', `There is no backup ${name} any more.`);
    return file;
  }

  /** Puts one in the place of what is there, once this is answered. Refuses `notFound`, and `notFromHere` where the server can't. */
  restore(name: string): void {
    const file = this.pathOf(name);
    if (!this.parts.restore) throw new Refusal('notFromHere', `This server can’t do it by itself: stop it and run “terrace restore ${file}”.`);
    this.parts.restore(file);
  }

  /** What is in one. Refuses `notFound`, `sealed`. */
  async lookInto(name: string): Promise<BackupLook> {
    const file = this.pathOf(name);
    if (await isSealed(file)) throw new Refusal('sealed', 'This backup is encrypted: look into it with "terrace check" on a restored copy.');
    const copy = openFile(file, { readonly: true, fileMustExist: true });
    try {
      const source = { store: copy };
      return {
        company: companyOf(copy),
        lastAt: latest.one(source)?.at ?? '',
        counts: Object.entries(counted).map(([what, rows]) => ({ what, n: rows.one(source)?.n ?? 0 })),
      };
    } finally {
      closeAlone(copy);
    }
  }
}
