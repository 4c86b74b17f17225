/** Papers and files are made in threads that are there while there is work, a few at once for each person. */
import type { Piscina } from 'piscina';
import type { AnyRoute, ImportKind, ListQuery } from '@terrace/contract';
import type { Receipt } from '@terrace/core';
import { AtOnce } from '../platform/at-once';
import type { ListFile, ListFiles } from '../platform/list-files';
import type { FileContent } from '../bulk';
import type { Paper } from '../platform/paper';
import { answerOf, openPool } from '../platform/threads';
import type { Work } from '../platform/work';
import type { Label } from './label-sheet';
import type { FileAnswer, KindTask, ListTask } from './list-file-worker';
import type { DrawTask } from './paper-worker';

export class Drawing implements ListFiles {
  private readonly papers: Piscina = openPool('paper-worker', import.meta.url);
  private readonly files: Piscina = openPool('list-file-worker', import.meta.url);
  private readonly atOnce = new AtOnce();
  /** Whether it has ended: nothing is drawn any more. */
  ended = false;

  constructor(private readonly dataFolder: string) {}

  /** A list, all of it, as a file. */
  write(
    { path, summary }: AnyRoute,
    work: Work,
    { params, query }: { readonly params: unknown; readonly query: ListQuery },
    signal: AbortSignal,
  ): Promise<ListFile> {
    return this.file({ do: 'list', path, title: summary, params, query, ...this.asked(work) }, signal);
  }

  /** Everything of a kind as a file that can be sent in again. */
  kind(work: Work, kind: ImportKind, type: 'csv' | 'xlsx', content: FileContent, signal: AbortSignal): Promise<ListFile> {
    return this.file({ do: 'kind', kind, type, content, ...this.asked(work) }, signal);
  }

  /** A paper as PDF, for a person: a few at once. */
  paper(work: Work, paper: Paper, signal: AbortSignal): Promise<Buffer> {
    return this.atOnce.for(work.actor.id, () => this.draw({ do: 'paper', paper }, signal));
  }

  /** Papers of many, one after the other in one PDF. */
  several(work: Work, papers: readonly Paper[], signal: AbortSignal): Promise<Buffer> {
    return this.atOnce.for(work.actor.id, () => this.draw({ do: 'papers', papers }, signal));
  }

  labels(work: Work, labels: readonly Label[], signal: AbortSignal): Promise<Buffer> {
    return this.atOnce.for(work.actor.id, () => this.draw({ do: 'labels', labels }, signal));
  }

  /** A receipt, for whoever stands at the counter. */
  receipt(work: Work, receipt: Receipt, signal: AbortSignal): Promise<Buffer> {
    return this.atOnce.for(work.actor.id, () => this.draw({ do: 'receipt', receipt }, signal));
  }

  /** A paper that nobody waits for. */
  async draw(task: DrawTask, signal?: AbortSignal): Promise<Buffer> {
    return Buffer.from((await this.papers.run(task, signal ? { signal } : {})) as Uint8Array);
  }

  async close(): Promise<void> {
    this.ended = true;
    await this.papers.destroy();
    await this.files.destroy();
  }

  private asked(work: Work): Pick<ListTask, 'dataFolder' | 'actor' | 'today' | 'now'> {
    return { dataFolder: this.dataFolder, actor: work.actor, today: work.today, now: work.now };
  }

  private async file(task: ListTask | KindTask, signal: AbortSignal): Promise<ListFile> {
    const file = answerOf(await this.atOnce.for(task.actor.id, async () => (await this.files.run(task, { signal })) as FileAnswer));
    return { ...file, content: Buffer.from(file.content) };
  }
}
