/** Rules of the house: how far goods and prices may be off, who approves purchases, and what is reserved by itself. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type HouseRulesView } from '@terrace/contract';
import { divideReasons, type DivideReason } from '@terrace/core';
import { ApiClient } from '../client/api-client';
import { CheckField } from '../ui/check-field';
import { NumberField } from '../ui/fields';
import { Control, disabled, entryOf, overRecord } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { CompanyCurrency } from '../ui/money';
import { OneOfField } from '../ui/one-of';
import { REASON_WORDS } from '../ui/divide-words';
import { Refused } from '../ui/refusal';
import { deskOf } from './desk';
import { Done } from './done';
import { bodyOf, draftOf, type RulesDraft } from './rules-draft';
import { undoable } from './undo';

const NONE: RulesDraft = {
  overDelivery: '',
  underDelivery: '',
  priceDifference: '',
  approvedUpTo: '',
  ownApproval: true,
  reserve: 'all',
  reserveDays: '',
  divideBy: [],
  quotesFrom: '',
  quotesWeighted: false,
  remindAfter: ['', '', ''],
};
const RESERVE = [
  { value: 'all', words: 'All that is free' },
  { value: 'soon', words: 'What is wanted soon' },
  { value: 'nothing', words: 'Nothing by itself' },
] as const;

@Component({
  imports: [CheckField, Control, Done, Labelled, NumberField, NzButtonModule, OneOfField, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Tolerances and approval</h1>
      <t-done [undo]="undo" />
      <t-refusal [problem]="desk.problem()" />
      <form (submit)="$event.preventDefault(); save()">
        <section class="pane">
          <h2>When goods arrive</h2>
          <div class="fields">
            <t-field name="May be more, %" hint="Beyond what was ordered of a line">
              <t-number label="May be more, in percent" [formField]="entry.fields.overDelivery" />
            </t-field>
            <t-field name="May be less, %" hint="So little missing is not expected any more">
              <t-number label="May be less, in percent" [formField]="entry.fields.underDelivery" />
            </t-field>
          </div>
        </section>
        <section class="pane">
          <h2>Before a purchase order is sent</h2>
          <div class="fields">
            <t-field [name]="'Needs no approval up to, ' + currency.code()" hint="Empty: each is approved">
              <t-number label="Needs no approval up to" [formField]="entry.fields.approvedUpTo" />
            </t-field>
            <t-field name="Dearer than agreed by, %" hint="Beyond that it needs approval all the same">
              <t-number label="Dearer than agreed, in percent" [formField]="entry.fields.priceDifference" />
            </t-field>
          </div>
          <t-check [formField]="entry.fields.ownApproval">Whoever entered an order may approve it themselves</t-check>
        </section>
        <section class="pane">
          <h2>When an order is confirmed, it reserves</h2>
          <div class="acts">
            <t-one-of label="What is reserved" [options]="reserve" [value]="draft().reserve" (chosen)="choose($event)" />
            @if (draft().reserve === 'soon') {
              <t-field name="Days before it is wanted"><t-number label="Days before" [formField]="entry.fields.reserveDays" /></t-field>
            }
          </div>
          <p class="quiet">{{ reserveWords() }}</p>
        </section>
        <section class="pane">
          <h2>When an order is confirmed, it is divided by</h2>
          <div class="reasons">
            @for (reason of reasons; track reason) {
              <t-check [checked]="draft().divideBy.includes(reason)" [disabled]="!desk.may()" (checkedChange)="divide(reason, $event)">{{
                reasonWords[reason]
              }}</t-check>
            }
          </div>
          <p class="quiet">
            {{
              draft().divideBy.length === 0
                ? 'It stays one order; somebody divides it where that helps.'
                : 'What goes apart becomes an order of its own at once; an order that goes as a whole stays one.'
            }}
          </p>
        </section>
        <section class="pane">
          <h2>In the plan, quotes count</h2>
          <div class="fields">
            <t-field name="From how likely, %" hint="Empty: not at all">
              <t-number label="Quotes count from, in percent" [formField]="entry.fields.quotesFrom" />
            </t-field>
          </div>
          <t-check [formField]="entry.fields.quotesWeighted">By how likely they are, and not in full</t-check>
        </section>
        <section class="pane">
          <h2>When an invoice is overdue</h2>
          <div class="fields">
            @for (each of entry.fields.remindAfter; track $index) {
              <t-field [name]="remindWords[$index] ?? ''" [hint]="$index === 0 ? 'Calendar days after its due date' : 'Days after the one before'">
                <t-number [label]="remindWords[$index] ?? ''" [formField]="each" />
              </t-field>
            }
          </div>
        </section>
        <t-refusal [problem]="entry.problem()" />
        @if (desk.may()) {
          <div class="acts"><button nz-button class="act first" [disabled]="entry.busy()">Save</button></div>
        }
      </form>
    </div>
  `,
  styleUrl: './setup.less',
  styles: 'form { max-width: 720px; } .reasons { display: grid; grid-template-columns: 1fr 1fr; gap: 6px 16px; }',
})
export class RulesPage {
  private readonly client = inject(ApiClient);
  protected readonly currency = inject(CompanyCurrency);
  protected readonly desk = deskOf(api.setup.houseRules);
  protected readonly undo = undoable();
  protected readonly reserve = RESERVE;
  protected readonly reasons = divideReasons;
  protected readonly reasonWords = REASON_WORDS;
  protected readonly remindWords = ['First reminder after, days', 'Second after, days', 'Last after, days'];
  protected readonly draft = signal<RulesDraft>(NONE);
  protected readonly entry = entryOf({
    draft: this.draft,
    route: () => (this.desk.view() ? api.setup.saveHouseRules : null),
    body: (draft) => ({ ...bodyOf(draft), version: this.desk.view()?.version ?? 0 }),
    shape: (path) => disabled(path, () => !this.desk.may()),
  });
  protected readonly reserveWords = computed(() => {
    switch (this.draft().reserve) {
      case 'all':
        return 'Whoever confirms first has the stock, however late it is wanted.';
      case 'soon':
        return 'What is wanted later stays free for others; it is reserved by itself once its day is near.';
      case 'nothing':
        return 'Somebody presses Reserve, for an order or for all that wait. Days are promised all the same.';
    }
  });

  constructor() {
    overRecord(
      this.entry,
      computed(() => {
        const view = this.desk.view();
        return view && { ...view, id: 1 };
      }),
      ({ id: _, version: __, ...rules }) => draftOf(rules),
    );
  }

  protected choose(reserve: RulesDraft['reserve']): void {
    if (this.desk.may()) this.draft.update((draft) => ({ ...draft, reserve }));
  }

  protected divide(reason: DivideReason, on: boolean): void {
    this.draft.update((draft) => ({ ...draft, divideBy: on ? [...draft.divideBy, reason] : draft.divideBy.filter((each) => each !== reason) }));
  }

  protected save(): void {
    const before = this.desk.view();
    if (before) this.keep(this.draft(), before, () => this.keep(draftOf(before), this.desk.view() ?? before));
  }

  private keep(draft: RulesDraft, { version }: HouseRulesView, back?: () => void): void {
    this.entry.send(this.client.call(api.setup.saveHouseRules, { body: { ...bodyOf(draft), version } }), (view) => {
      this.desk.view.set(view);
      this.undo.did(back ? 'Kept.' : 'As it was before.', back);
    });
  }
}
