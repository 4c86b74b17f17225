/** Costs that came after a receipt, and one more. */
import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { NumberField } from '../ui/fields';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { InCurrencyPipe } from '../ui/money';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';

interface CostDraft {
  readonly what: 'landedCost' | 'invoiceDifference';
  readonly amount: string;
  readonly note: string;
}
const EMPTY: CostDraft = { what: 'landedCost', amount: '', note: '' };
type Costs = AnswerOf<typeof api.stores.lateCosts>;

@Component({
  selector: 't-late-costs',
  imports: [
    Control,
    Labelled,
    Sheet,
    NzButtonModule,
    SelectField,
    SelectOption,
    TextField,
    InCurrencyPipe,
    NumberField,
    Refused,
    GroupedPipe,
    LongDayPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-sheet>
      <thead>
        <tr>
          <th>Late cost</th>
          <th>Date</th>
          <th>What</th>
          <th class="figure">{{ '' | inCurrency }}</th>
          <th class="figure">Into stock</th>
          <th class="figure">On goods issued</th>
          <th><span class="sr">Take back</span></th>
        </tr>
      </thead>
      <tbody>
        @for (cost of costs(); track cost.id) {
          <tr>
            <td class="code">{{ cost.number }}</td>
            <td>{{ cost.date | longDay }}</td>
            <td>
              {{ cost.what === 'landedCost' ? 'landed cost' : 'invoice differs' }}
              <div class="quiet">{{ cost.note }}</div>
            </td>
            <td class="figure">{{ cost.amount | grouped }}</td>
            <td class="figure">{{ cost.inStock | grouped }}</td>
            <td class="figure">{{ cost.gone | grouped }}</td>
            <td>
              @if (cost.reversed) {
                <span class="quiet">taken back</span>
              } @else if (rights().has('accounts.invoice')) {
                <button nz-button type="button" class="act small" [disabled]="entry.busy()" (click)="takeBack(cost.id)">Take back</button>
              }
            </td>
          </tr>
        } @empty {
          <tr>
            <td colspan="7" class="quiet">
              None yet. Freight, duty or a dearer invoice goes here: what is still in stock becomes worth more, the rest is a cost difference.
            </td>
          </tr>
        }
      </tbody>
    </t-sheet>
    <t-refusal [problem]="entry.problem()" />
    @if (rights().has('accounts.invoice')) {
      <div class="acts">
        <t-field name="What"
          ><t-select [formField]="entry.fields.what">
            <t-option value="landedCost" label="landed cost: freight, duty, insurance" />
            <t-option value="invoiceDifference" label="the invoice differs" /> </t-select
        ></t-field>
        <t-field [name]="'Amount' | inCurrency" style="width: 110px"
          ><t-number label="Amount of the late cost" [formField]="entry.fields.amount"
        /></t-field>
        <t-field name="Note"><t-text [formField]="entry.fields.note" /></t-field>
        <button nz-button type="button" class="act" [disabled]="entry.busy() || draft().amount === ''" (click)="add()">
          Add {{ draft().amount || '…' | inCurrency }}
        </button>
      </div>
    }
  `,
})
export class LateCosts {
  private readonly client = inject(ApiClient);
  readonly receiptId = input.required<number>();
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly costs = signal<Costs>([]);
  private readonly at = signal(0);
  protected readonly draft = signal<CostDraft>(EMPTY);
  protected readonly entry = entryOf({
    part: () => `late cost of ${this.at()}`,
    draft: this.draft,
    route: () => (this.draft().amount === '' ? null : api.stores.addLateCost),
  });

  constructor() {
    effect(() => {
      const id = this.receiptId();
      untracked(() => {
        this.at.set(id);
        this.entry.begin(EMPTY);
        this.client.call(api.stores.lateCosts, { params: { id } }).subscribe({
          next: (costs) => this.costs.set(costs),
          error: (error: unknown) => this.entry.refuse(problemOf(error)),
        });
      });
    });
  }

  protected add(): void {
    this.entry.send(this.client.call(api.stores.addLateCost, { params: { id: this.receiptId() }, body: this.draft() }), (costs) => {
      this.costs.set(costs);
      this.entry.begin(EMPTY);
    });
  }

  protected takeBack(id: number): void {
    this.entry.send(this.client.call(api.stores.reverseLateCost, { params: { id } }), (costs) => this.costs.set(costs), 'part');
  }
}
