/** A sum over the open invoices of a customer: spread as what is due first before the rest, and typed otherwise where somebody wants. */
import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { writeAmount } from '@terrace/core';
import { CheckField } from '../ui/check-field';
import { Empty } from '../ui/empty';
import { NumberField } from '../ui/fields';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { InCurrencyPipe } from '../ui/money';
import { Sheet } from '../ui/sheet';
import { typedAmount } from '../ui/typed-amount';
import { invoicesIn, spreadOver, takenOf, type OpenItem, type Settles } from './settle-draft';

@Component({
  selector: 't-settle-lines',
  imports: [CheckField, Empty, GroupedPipe, InCurrencyPipe, NumberField, NzButtonModule, RouterLink, Sheet, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (invoices().length > 0) {
      <t-sheet>
        <thead>
          <tr>
            <th>Invoice</th>
            <th>Due</th>
            <th class="figure">Open</th>
            <th class="figure">Closed by it</th>
            @if (letsOff()) {
              <th>Paid early</th>
            }
          </tr>
        </thead>
        <tbody>
          @for (each of invoices(); track each.id) {
            <tr>
              <td>
                <a class="code" [routerLink]="['/accounts/invoices', each.id]">{{ each.number }}</a>
              </td>
              <td [class.trouble]="each.band !== 'notDue'">{{ each.dueDate | shortDay }}</td>
              <td class="figure">{{ each.open | grouped }}</td>
              <td class="number">
                <t-number
                  [label]="'How much of ' + each.number"
                  [value]="settles()[each.id]?.amount ?? ''"
                  [refused]="refused()[each.id]"
                  (valueChange)="set(each, $event)"
                />
              </td>
              @if (letsOff()) {
                <td>
                  @if (each.letOff !== '0.00') {
                    <t-check [checked]="settles()[each.id]?.early ?? false" (checkedChange)="takeOff(each, $event)"
                      >{{ each.letOff | grouped }} let off</t-check
                    >
                  }
                </td>
              }
            </tr>
          }
        </tbody>
      </t-sheet>
      <p class="figure">
        Closes {{ taken() | grouped }}
        @if (rest() !== '0.00') {
          · <b [class.trouble]="over()">{{ over() ? 'too much by' : restWords() }} {{ rest() | grouped | inCurrency: currency() }}</b>
        }
      </p>
      <div class="acts">
        <button nz-button type="button" class="act small" (click)="spread()">Spread it, what is due first</button>
      </div>
    } @else {
      <t-empty words="No invoice of theirs is open." />
    }
  `,
  styles: '.number { width: 130px; }',
})
export class SettleLines {
  readonly open = input.required<readonly OpenItem[]>();
  /** The sum that there is. */
  readonly available = input.required<string>();
  /** Whether discounts for early payment may be taken: by money, not by credit notes. */
  readonly early = input(true);
  /** What the rest is called. */
  readonly restWords = input('paid ahead');
  /** What the sum and the invoices are in; the company's currency where nobody says. */
  readonly currency = input('');
  /** What is refused, by the invoice's id. */
  readonly refused = input<Readonly<Record<string, string>>>({});
  readonly settles = model<Settles>({});
  protected readonly invoices = computed(() => invoicesIn(this.open()));
  /** Whether anything is let off any of them. */
  protected readonly letsOff = computed(() => this.early() && this.invoices().some(({ letOff }) => letOff !== '0.00'));
  protected readonly taken = computed(() => writeAmount(takenOf(this.open(), this.settles())));
  private readonly left = computed(() => typedAmount(this.available()) - takenOf(this.open(), this.settles()));
  protected readonly over = computed(() => this.left() < 0);
  protected readonly rest = computed(() => writeAmount(Math.abs(this.left())));

  protected set({ id }: OpenItem, amount: string): void {
    this.settles.update((all) => ({ ...all, [id]: { early: false, ...all[id], amount } }));
  }

  /** With what is let off the whole invoice is closed. */
  protected takeOff({ id, open }: OpenItem, early: boolean): void {
    this.settles.update((all) => ({ ...all, [id]: { amount: early ? open : (all[id]?.amount ?? ''), early } }));
  }

  protected spread(): void {
    this.settles.set(spreadOver(this.open(), this.available(), this.early()));
  }
}
