/** Backups: when and where they are made by themselves, how the last went, and what is in each. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BackupLook, type Keeping } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { sessionFeature } from '../client/session.state';
import { CheckField } from '../ui/check-field';
import { Confirm } from '../ui/confirm';
import { GroupedPipe, MomentPipe } from '../ui/format';
import { Control, disabled, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Note } from '../ui/note';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { goodWords, sizeWords } from './backup-words';
import { Done } from './done';
import { undoable } from './undo';

interface Draft {
  readonly on: boolean;
  readonly at: string;
  readonly keep: string;
  readonly folder: string;
}
const draftOf = ({ schedule }: Keeping): Draft => ({ ...schedule, keep: String(schedule.keep) });
const bodyOf = ({ keep, ...draft }: Draft) => ({ ...draft, keep: Number(keep) });

/** As long as the server may need to come again with a backup of some size. */
const AWAY_MS = 4000;

@Component({
  imports: [CheckField, Confirm, Control, Done, GroupedPipe, Labelled, MomentPipe, Note, NzButtonModule, Refused, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './backups.page.html',
  styleUrl: './setup.less',
})
export class BackupsPage {
  private readonly client = inject(ApiClient);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly may = computed(() => this.rights().has('setup.edit'));
  protected readonly keeping = signal<Keeping | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly making = signal(false);
  /** What is in the backup that was looked into, by its name. */
  protected readonly look = signal<{ readonly name: string; readonly inside: BackupLook } | null>(null);
  /** The one that somebody is asked about, and whether it is being put back. */
  protected readonly restoring = signal<string | null>(null);
  protected readonly away = signal(false);
  protected readonly undo = undoable();
  protected readonly words = computed(() => {
    const keeping = this.keeping();
    return keeping ? goodWords(keeping) : '';
  });
  protected readonly size = sizeWords;
  private readonly draft = signal<Draft>({ on: true, at: '', keep: '', folder: '' });
  protected readonly entry = entryOf({
    draft: this.draft,
    route: () => (this.keeping() ? api.setup.saveBackups : null),
    body: bodyOf,
    shape: (path) => disabled(path, () => !this.may()),
  });
  private begun = false;

  constructor() {
    this.load();
    whenHeard(
      () => ['setup'],
      () => this.load(),
    );
  }

  private load(): void {
    this.client.call(api.setup.keeping).subscribe({
      next: (keeping) => this.take(keeping),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  private take(keeping: Keeping): void {
    this.keeping.set(keeping);
    if (this.begun) this.entry.onto(draftOf(keeping));
    else this.entry.begin(draftOf(keeping));
    this.begun = true;
  }

  protected save(): void {
    const before = this.keeping();
    if (before) this.keep(this.draft(), () => this.keep(draftOf(before)));
  }

  private keep(draft: Draft, back?: () => void): void {
    this.entry.send(this.client.call(api.setup.saveBackups, { body: bodyOf(draft) }), (keeping) => {
      this.keeping.set(keeping);
      this.entry.begin(draftOf(keeping));
      this.undo.did(back ? 'Kept.' : 'As it was before.', back);
    });
  }

  protected make(): void {
    if (this.making()) return;
    this.making.set(true);
    this.problem.set(null);
    this.client.call(api.setup.backUpNow).subscribe({
      next: (keeping) => {
        this.making.set(false);
        this.take(keeping);
      },
      error: (error: unknown) => {
        this.making.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }

  protected lookInto(name: string): void {
    this.problem.set(null);
    this.client.call(api.setup.lookIntoBackup, { params: { name } }).subscribe({
      next: (inside) => this.look.set({ name, inside }),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  /** Once it is answered the server goes and comes again, with everybody signed out. */
  protected restore(name: string): void {
    this.restoring.set(null);
    this.problem.set(null);
    this.client.call(api.setup.restoreBackup, { params: { name } }).subscribe({
      next: () => {
        this.away.set(true);
        setTimeout(() => location.assign('/sign-in'), AWAY_MS);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
