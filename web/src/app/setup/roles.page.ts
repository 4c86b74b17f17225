/** Roles: what each lets its people do and what they are told of; before a change is saved, whom it gives and takes what. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, noticeKinds, rightWords, rights, type AnswerOf, type NoticeKind, type Right } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { NOTICE_KINDS } from '../client/notice-kinds';
import { Beside } from '../ui/beside';
import { CheckField } from '../ui/check-field';
import { Confirm } from '../ui/confirm';
import { Control, Leaving, disabled, entryOf } from '../ui/forms';
import { Grid } from '../ui/grid';
import type { GridColumn } from '../ui/grid-cells';
import { Labelled } from '../ui/labelled';
import { Note } from '../ui/note';
import { Refused } from '../ui/refusal';
import { TextField } from '../ui/text-field';
import { peopleDesk } from './people-desk';
import { bodyOf, draftOf, rightsByRoom, turned } from './role-draft';

const NEW = -1;
type Effect = AnswerOf<typeof api.setup.weighRole>['people'];

@Component({
  imports: [Beside, CheckField, Confirm, Control, Grid, Labelled, Note, NzButtonModule, Refused, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './roles.page.html',
  styleUrl: './setup.less',
})
export class RolesPage {
  private readonly client = inject(ApiClient);
  private readonly leaving = inject(Leaving);
  private readonly desk = peopleDesk(() => {
    if (this.chosen() !== 0) this.entry.onto(draftOf(this.role() ?? undefined));
  });
  protected readonly may = this.desk.may;
  protected readonly view = this.desk.view;
  protected readonly problem = this.desk.problem;
  protected readonly NEW = NEW;
  protected readonly rooms = rightsByRoom();
  protected readonly kinds = noticeKinds.map((kind) => ({ kind, words: NOTICE_KINDS[kind] }));
  protected readonly chosen = signal(0);
  /** What saving would give and take, while it is asked about. */
  protected readonly effect = signal<Effect | null>(null);
  protected readonly role = computed(() => this.view()?.roles.find(({ id }) => id === this.chosen()) ?? null);
  protected readonly rows = computed(() =>
    (this.view()?.roles ?? []).map((each) => ({ ...each, may: each.rights.length, told: each.notices.length })),
  );
  protected readonly columns: readonly GridColumn[] = [
    { field: 'name', title: 'Role', kind: 'text' },
    { field: 'people', title: 'People', kind: 'count', width: 76 },
    { field: 'may', title: 'Rights', kind: 'count', width: 76 },
    { field: 'told', title: 'Told of', kind: 'count', width: 76, spare: 1 },
  ];
  protected readonly draft = signal(draftOf());
  protected readonly entry = entryOf({
    part: () => `role ${this.chosen()}`,
    draft: this.draft,
    route: () => (this.chosen() === 0 || !this.may() ? null : api.setup.saveRole),
    body: bodyOf,
    shape: (path) => disabled(path, () => !this.may()),
  });

  protected async choose(id: number): Promise<void> {
    if (id === this.chosen() || !(await this.leaving.ask())) return;
    this.chosen.set(id);
    this.entry.begin(draftOf(this.role() ?? undefined));
  }

  protected give(right: Right, on: boolean): void {
    this.draft.update((draft) => ({ ...draft, rights: turned(rights, draft.rights, right, on) }));
  }

  protected tell(kind: NoticeKind, on: boolean): void {
    this.draft.update((draft) => ({ ...draft, notices: turned(noticeKinds, draft.notices, kind, on) }));
  }

  /** A change of what people may do is asked about first; everything else is saved at once. */
  protected save(): void {
    const role = this.role();
    if (!role || role.everything) {
      this.keep();
      return;
    }
    this.entry.send(
      this.client.call(api.setup.weighRole, { body: { id: role.id, rights: [...this.draft().rights] } }),
      ({ people }) => {
        if (people.length === 0) this.keep();
        else this.effect.set(people);
      },
      'part',
    );
  }

  protected keep(): void {
    this.effect.set(null);
    const role = this.role();
    const body = { ...bodyOf(this.draft()), ...(role ? { id: role.id, version: role.version } : {}) };
    this.entry.send(this.client.call(api.setup.saveRole, { body }), (view) => {
      this.view.set(view);
      if (!role) this.chosen.set(view.roles.at(-1)?.id ?? 0);
      this.entry.begin(draftOf(this.role() ?? undefined));
    });
  }

  protected drop(): void {
    const role = this.role();
    if (!role) return;
    this.entry.send(this.client.call(api.setup.dropRole, { params: { id: role.id } }), (view) => {
      this.view.set(view);
      this.chosen.set(0);
    });
  }

  protected inWords(held: readonly Right[]): string {
    return held.map(rightWords).join('; ');
  }
}
