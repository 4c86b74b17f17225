/** What is looked at most of an item: what is there, what can be promised, and its price. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { api, type Availability, type ItemView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { Choices } from '../client/choices';
import { whenHeard } from '../client/heard';
import { lastAsked } from '../client/last-asked';
import { sessionFeature } from '../client/session.state';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { InCurrencyPipe } from '../ui/money';

@Component({
  selector: 't-item-stock',
  imports: [GroupedPipe, InCurrencyPipe, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <dl class="facts first">
      @if (stock(); as there) {
        <div>
          <dt>On hand in {{ there.warehouse }}</dt>
          <dd class="code">{{ there.onHand | grouped }} {{ item().unit }}</dd>
        </div>
        <div>
          <dt>Free</dt>
          <dd class="code">{{ there.free | grouped }}</dd>
        </div>
        <div>
          <dt>Available to promise</dt>
          <dd class="code">{{ there.promise.quantityNow | grouped }}</dd>
        </div>
        @if (next(); as next) {
          <div>
            <dt>Next expected</dt>
            <dd class="code">
              {{ next.quantity | grouped }} <span class="quiet">{{ next.late ? 'overdue' : (next.date | shortDay) }}</span>
            </dd>
          </div>
        }
        @if (elsewhere(); as words) {
          <div>
            <dt>Free elsewhere</dt>
            <dd class="code">{{ words }}</dd>
          </div>
        }
      }
      <div>
        <dt>Selling price</dt>
        <dd class="code">{{ item().sellPrice | grouped | inCurrency }}</dd>
      </div>
    </dl>
  `,
  styles: '.first dd { font-size: 15px; }',
})
export class ItemStock {
  readonly item = input.required<ItemView>();
  private readonly client = inject(ApiClient);
  private readonly choices = inject(Choices);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  private readonly today = inject(Store).selectSignal(sessionFeature.selectToday);
  private readonly ask = lastAsked();
  protected readonly stock = signal<Availability | null>(null);
  /** What comes next; what should have come before today comes today at the soonest. */
  protected readonly next = computed(() => {
    const [first] = this.stock()?.expected ?? [];
    const today = this.today();
    return first && { ...first, late: first.date < today, date: first.date < today ? today : first.date };
  });
  /** What is free in other warehouses, in words; empty where nothing is. */
  protected readonly elsewhere = computed(() =>
    (this.stock()?.elsewhere ?? [])
      .filter(({ free }) => free !== '0')
      .map(({ warehouse, free }) => `${warehouse} ${free}`)
      .join(', '),
  );

  constructor() {
    effect(() => this.load());
    whenHeard(
      () => ['stock'],
      () => this.load(),
    );
  }

  private load(): void {
    const [item, warehouse] = [this.item(), this.choices.warehouseId()];
    if (!this.rights().has('stores.see') || item.kind !== 'stocked' || warehouse === 0) this.stock.set(null);
    else
      this.ask(this.client.beside(api.stores.availability, { query: { item: item.id, warehouse } }, null), {
        next: (stock) => this.stock.set(stock),
      });
  }
}
