/** Files in and out: choose, map, try, look at each row, take. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { NzStepsModule } from 'ng-zorro-antd/steps';
import { importKinds, type ImportKind } from '@terrace/contract';
import type { Problem } from '../client/api-client';
import { GroupedPipe, MomentPipe, grouped } from '../ui/format';
import { FileField } from '../ui/file-field';
import { Refused } from '../ui/refusal';
import { ImportStore } from './import.store';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';
import { OneOfField } from '../ui/one-of';
import { Progress } from '../ui/progress';
import { Note } from '../ui/note';
import { KIND_WORDS } from '../ui/kind-words';
import { TakeFile } from '../ui/take-file';

const STATES: Readonly<Record<string, string>> = {
  read: 'not tried',
  trying: 'being tried',
  tried: 'tried, not taken',
  taking: 'being taken',
  taken: 'taken',
  stopped: 'stopped',
  failed: 'failed',
};

@Component({
  imports: [
    Note,
    Progress,
    OneOfField,
    Sheet,
    NzButtonModule,
    NzStepsModule,
    FileField,
    SelectField,
    SelectOption,
    TakeFile,
    Refused,
    GroupedPipe,
    MomentPipe,
  ],
  providers: [ImportStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './import.page.html',
  styleUrl: './import.page.less',
})
export class ImportPage {
  protected readonly store = inject(ImportStore);
  protected readonly kinds = importKinds.map((value) => ({ value, words: KIND_WORDS[value] }));
  protected readonly outcomes = computed(() =>
    (['added', 'changed', 'refused'] as const).map((value) => ({
      value,
      words: `${grouped(String(this.store.view()?.counts[value] ?? 0))} ${value}`,
    })),
  );

  /** What the way here asked for. */
  readonly kind = input<string>();

  constructor() {
    effect(() => {
      const kind = importKinds.find((each) => each === this.kind());
      if (kind) untracked(() => this.store.choose(kind));
    });
  }

  /** Whether a file to take away is being made, and why one was not. */
  protected readonly making = signal(false);
  protected readonly notMade = signal<Problem | null>(null);

  /** How far the file in hand has come. */
  protected readonly step = computed(() => {
    const state = this.store.view()?.state;
    if (state === undefined) return 0;
    return { read: 1, stopped: 1, failed: 1, trying: 2, tried: 3, taking: 3, taken: 4 }[state] ?? 1;
  });

  protected kindWords(kind: ImportKind): string {
    return KIND_WORDS[kind];
  }

  protected stateWords(state: string): string {
    return STATES[state] ?? state;
  }

  protected columnWords(key: string): string {
    return this.store.view()?.columns.find((column) => column.key === key)?.title ?? key;
  }
}
