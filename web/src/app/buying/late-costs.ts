/** Costs that came after a receipt, and one more. */
import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type { Observable } from 'rxjs';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { NumberField } from '../ui/fields';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { Refused } from '../ui/refusal';
import { InCurrencyPipe } from '../ui/money';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';

type Costs = AnswerOf<typeof api.stores.lateCosts>;

@Component({
  selector: 't-late-costs',
  imports: [Sheet, NzButtonModule, SelectField, SelectOption, TextField, InCurrencyPipe, NumberField, Refused, GroupedPipe, LongDayPipe],
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
          <th class="figure">Of goods gone</th>
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
                <button nz-button type="button" class="act small" [disabled]="busy()" (click)="takeBack(cost.id)">Take back</button>
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
    <t-refusal [problem]="problem()" />
    @if (rights().has('accounts.invoice')) {
      <div class="acts">
        <label class="field"
          ><span>What</span
          ><t-select [value]="what()" (valueChange)="what.set($event === 'landedCost' ? 'landedCost' : 'invoiceDifference')">
            <t-option value="landedCost" label="landed cost: freight, duty, insurance" />
            <t-option value="invoiceDifference" label="the invoice differs" /> </t-select
        ></label>
        <label class="field" style="width: 110px"
          ><span>{{ 'Amount' | inCurrency }}</span
          ><t-number label="Amount of the late cost" [(value)]="amount" [quiet]="true"
        /></label>
        <label class="field"><span>Note</span><t-text [value]="note()" (valueChange)="note.set($event)" /></label>
        <button nz-button type="button" class="act" [disabled]="busy() || amount() === ''" (click)="add()">
          Add {{ amount() || '…' | inCurrency }}
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
  protected readonly what = signal<'landedCost' | 'invoiceDifference'>('landedCost');
  protected readonly amount = signal('');
  protected readonly note = signal('');
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);

  constructor() {
    effect(() => {
      const id = this.receiptId();
      untracked(() => this.show(this.client.call(api.stores.lateCosts, { params: { id } })));
    });
  }

  protected add(): void {
    const call = { params: { id: this.receiptId() }, body: { what: this.what(), amount: this.amount(), note: this.note() } };
    this.show(this.client.call(api.stores.addLateCost, call), () => {
      this.amount.set('');
      this.note.set('');
    });
  }

  protected takeBack(id: number): void {
    this.show(this.client.call(api.stores.reverseLateCost, { params: { id } }));
  }

  private show(asked: Observable<Costs>, done: () => void = () => undefined): void {
    this.busy.set(true);
    asked.subscribe({
      next: (costs) => {
        this.costs.set(costs);
        this.busy.set(false);
        this.problem.set(null);
        done();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
