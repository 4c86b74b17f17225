/** How documents are numbered: each kind in its row, with the number that comes next. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf, type BodyIn, type NumberingView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { CheckField } from '../ui/check-field';
import { Control } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { byCode, rowsEntry } from '../ui/rows-entry';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { Done } from './done';
import { undoable } from './undo';

interface NumberingRow {
  readonly prefix: string;
  readonly width: string;
  readonly byYear: boolean;
  readonly next: string;
}
type Body = BodyIn<typeof api.setup.saveNumbering>;
type View = AnswerOf<typeof api.setup.numbering>;
const rowOf = ({ prefix, width, byYear, next }: NumberingView): NumberingRow => ({ prefix, width: String(width), byYear, next: String(next) });

@Component({
  imports: [CheckField, Control, Done, Labelled, NzButtonModule, Refused, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Numbering</h1>
      <p class="quiet">
        Numbers that were given never come again: a prefix goes on where it was, and by year it begins anew on the first day of each.
      </p>
      <t-done [undo]="undo" />
      <t-refusal [problem]="problem() ?? rows.entry.problem()" />
      <t-sheet>
        <thead>
          <tr>
            <th>Documents</th>
            <th>Prefix</th>
            <th>By year</th>
            <th class="figure">Figures</th>
            <th class="figure">Next</th>
            <th>The next is</th>
            <th><span class="sr">Save</span></th>
          </tr>
        </thead>
        <tbody>
          @for (each of view()?.numbering; track each.kind) {
            <tr (focusin)="rows.enter(each.kind)">
              <td>{{ each.title }}</td>
              @if (may() && rows.entry.fields.rows[each.kind]; as row) {
                <td style="width: 120px">
                  <t-field unseen [name]="'Prefix of ' + each.title"><t-text kind="code" [formField]="row.prefix" /></t-field>
                </td>
                <td><t-check [label]="each.title + ' by year'" [formField]="row.byYear" /></td>
                <td style="width: 80px">
                  <t-field unseen [name]="'Figures of ' + each.title"><t-text kind="figure" [formField]="row.width" /></t-field>
                </td>
                <td style="width: 110px">
                  <t-field unseen [name]="'Next of ' + each.title"><t-text kind="figure" [formField]="row.next" /></t-field>
                </td>
              } @else {
                <td class="code">{{ each.prefix }}</td>
                <td>{{ each.byYear ? 'yes' : 'no' }}</td>
                <td class="figure">{{ each.width }}</td>
                <td class="figure">{{ each.next }}</td>
              }
              <td class="code">{{ each.example }}</td>
              <td>
                @if (rows.differs(each.kind)) {
                  <button nz-button type="button" class="act small first" [disabled]="rows.entry.busy()" (click)="save(each)">Save</button>
                }
              </td>
            </tr>
          }
        </tbody>
      </t-sheet>
    </div>
  `,
  styleUrl: './setup.less',
})
export class NumberingPage {
  private readonly client = inject(ApiClient);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly may = computed(() => this.rights().has('setup.edit'));
  protected readonly view = signal<View | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly undo = undoable();
  protected readonly rows = rowsEntry<NumberingRow, Body, View>({
    part: 'numbering',
    ground: () => this.view(),
    rows: ({ numbering }) => byCode(numbering, ({ kind }) => kind, rowOf),
    empty: { prefix: '', width: '4', byYear: false, next: '1' },
    route: api.setup.saveNumbering,
    body: (row, kind) => this.bodyOf(row, kind ?? ''),
    send: (body) => this.client.call(api.setup.saveNumbering, { body }),
    done: (view) => {
      this.view.set(view);
      this.saved?.();
    },
  });
  /** Says what was done, once it is. */
  private saved: (() => void) | undefined;

  constructor() {
    this.client
      .call(api.setup.numbering)
      .subscribe({ next: (view) => this.view.set(view), error: (error: unknown) => this.problem.set(problemOf(error)) });
  }

  /** Whoever changes the prefix or the year, and not the next number, means the one that comes next there. */
  private bodyOf({ prefix, width, byYear, next }: NumberingRow, kind: string): Body {
    return { kind, prefix, byYear, width: Number(width), next: Number(next) };
  }

  protected save(before: NumberingView): void {
    this.saved = () =>
      this.undo.did(`${before.title} were numbered as ${before.example}.`, () =>
        this.client.call(api.setup.saveNumbering, { body: this.bodyOf(rowOf(before), before.kind) }).subscribe({
          next: (view) => this.view.set(view),
          error: (error: unknown) => this.problem.set(problemOf(error)),
        }),
      );
    this.rows.save(before.kind);
  }
}
