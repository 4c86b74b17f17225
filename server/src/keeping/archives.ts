/** The whole company as a file: written when somebody asks, the last few kept; and a company founded from one. */
import { existsSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Piscina } from 'piscina';
import type { ArchivesView } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import type { Commands } from '../platform/commands';
import { sweepParts } from '../platform/parts';
import { answerOf, openPool, type Answer } from '../platform/threads';
import { NOBODY, type Actor } from '../platform/work';
import type { Archived } from './archive';
import type { ArchiveTask } from './archive-worker';
import type { Founder } from './found-from';

const NAME = /^terrace-\d{8}-\d{6}\.zip$/;
const KEPT = 3;

export class Archives {
  private readonly pool: Piscina = openPool('archive-worker', import.meta.url, { mostMegabytes: 4096 });
  readonly folder: string;
  private running: Promise<Archived> | null = null;

  constructor(
    private readonly commands: Commands,
    private readonly dataFolder: string,
  ) {
    this.folder = join(dataFolder, 'archives');
    // What a kill has left of one, and of one that came in.
    sweepParts(this.folder, /\.part(\.d)?$/);
  }

  async close(): Promise<void> {
    await this.pool.destroy();
  }

  private async run(task: ArchiveTask): Promise<Archived | string> {
    return answerOf((await this.pool.run(task)) as Answer<Archived | string>);
  }

  private names(): string[] {
    return existsSync(this.folder)
      ? readdirSync(this.folder)
          .filter((name) => NAME.test(name))
          .sort()
          .reverse()
      : [];
  }

  view(): ArchivesView {
    return { archives: this.names().map((name) => ({ name, bytes: statSync(join(this.folder, name)).size })), kept: KEPT };
  }

  /** Writes one; whoever asks while one is written waits for that. */
  async write(actor: Actor): Promise<void> {
    this.running ??= this.writeOne(actor).finally(() => (this.running = null));
    await this.running;
  }

  private async writeOne(actor: Actor): Promise<Archived> {
    const writtenAt = new Date().toISOString();
    const name = `terrace-${writtenAt.slice(0, 19).replace(/[-:]/g, '').replace('T', '-')}.zip`;
    mkdirSync(this.folder, { recursive: true, mode: 0o700 });
    const written = (await this.run({ dataFolder: this.dataFolder, target: join(this.folder, name), writtenAt })) as Archived;
    await this.commands.performTogether(actor, (work) => {
      work.record('setup', 0, `wrote the whole company into ${name}: ${written.rows} rows of ${written.tables} tables, ${written.attachments} files`);
    });
    for (const old of this.names().slice(KEPT)) rmSync(join(this.folder, old), { force: true });
    return written;
  }

  /** The path of one. Refuses `notFound`. */
  pathOf(name: string): string {
    if (!this.names().includes(name)) throw new Refusal('notFound', `There is no archive ${name} any more: write a new one.`);
    return join(this.folder, name);
  }

  /** Founds the company from an archive that was sent. Nobody's command runs meanwhile. Refuses `founded`, `notTheirs`, `unreadable`, `otherRelease`. */
  async found(archive: string, founder: Founder): Promise<string> {
    const release = this.commands.hold();
    let company: string;
    try {
      company = (await this.run({ dataFolder: this.dataFolder, archive, founder, today: this.commands.clock.today() })) as string;
    } finally {
      release();
    }
    await this.commands.performTogether(NOBODY, (work) => {
      work.record('setup', 0, `founded ${company} from an archive`);
    });
    return company;
  }
}
