/** Why a price is what it is: its steps one above the other, like a stair, and what is left over cost. */
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { asPrice, marginOf, readDecimal, toScale, writePoints } from '@terrace/core';
import type { PriceAnswer } from '@terrace/contract';
import { CostPipe, GroupedPipe } from '../ui/format';
import { InCurrencyPipe } from '../ui/money';

@Component({
  selector: 't-price-why',
  imports: [InCurrencyPipe, CostPipe, GroupedPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (answer(); as priced) {
      <p class="price">
        <b>{{ priced.price | grouped | inCurrency: priced.wantedIn }}</b>
        @if (priced.currency !== priced.wantedIn) {
          <span class="quiet">{{ priced.stated | grouped }} {{ priced.currency }}</span>
        }
      </p>
      <ol>
        @for (step of priced.steps; track $index; let index = $index) {
          <li [style.margin-left.px]="index * 10">{{ step }}</li>
        }
      </ol>
      <dl class="facts">
        <div>
          <dt>Cost now</dt>
          <dd class="code">{{ +priced.cost > 0 ? (priced.cost | cost) : 'not known' }}</dd>
        </div>
        <div>
          <dt>Margin</dt>
          <dd class="code" [class.trouble]="margin().startsWith('-')">{{ margin() === '' ? '—' : margin() + ' %' }}</dd>
        </div>
        @if (priced.ceiling !== null) {
          <div>
            <dt>Discount ceiling</dt>
            <dd class="code">{{ priced.ceiling }} %</dd>
          </div>
        }
      </dl>
    }
  `,
  styles: `
    .price b {
      font: 650 26px var(--figures);
      margin-right: 8px;
    }
    ol {
      list-style: none;
      margin: 8px 0;
      padding: 0;
      font-size: 13px;
    }
    li {
      border-left: 3px solid var(--supply);
      border-bottom: 1px solid var(--line);
      padding: 4px 8px;
    }
  `,
})
export class PriceWhy {
  readonly answer = input.required<PriceAnswer | null>();
  /** The line in hand, where there is one: what is left follows the price and the discount that it has. */
  readonly line = input<{ readonly price: string; readonly discount: string } | null>(null);
  protected readonly margin = computed(() => {
    const [answer, line] = [this.answer(), this.line()];
    if (!answer) return '';
    if (!line) return answer.margin;
    const [price, cost, discount] = [readDecimal(line.price), readDecimal(answer.cost), readDecimal(line.discount || '0')];
    const [paid, spent, off] = [price && toScale(price, 6), cost && toScale(cost, 6), discount && toScale(discount, 2)];
    // While something is typed that can't be read there is nothing to say.
    if (paid === null || spent === null || off === null || off < 0n || off > 10_000n) return '';
    const left = marginOf(asPrice(Number(paid)), asPrice(Number(spent)), Number(off));
    return left === null ? '' : writePoints(left);
  });
}
