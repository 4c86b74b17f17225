/** One item in one warehouse: what the plan counts with, by period and by date, drawn; and whom each supply serves. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, numberAttribute, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { of } from 'rxjs';
import { api, type ItemRecord, type PegView, type RecordEventView } from '@terrace/contract';
import { timePhased } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { focusActions } from '../shell/focus.state';
import { whenHeard } from '../client/heard';
import { BalanceDrawing } from '../ui/balance-drawing';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { Refused } from '../ui/refusal';
import { PegPicture } from './peg-picture';
import { PlanningNav } from './planning-nav';
import { stripOf } from './record-strip';
import { Sheet } from '../ui/sheet';
import { OneOfField } from '../ui/one-of';

const MOST_PERIODS = 60;

const WHAT: Readonly<Record<RecordEventView['what'], string>> = {
  stock: 'in stock',
  receipt: 'ordered',
  suggestion: 'suggested',
  order: 'customer’s order',
  component: 'production',
  transfer: 'to another warehouse',
  forecast: 'forecast',
  quote: 'quote',
  called: 'a suggestion calls',
  leaves: 'stops being usable',
};

@Component({
  imports: [OneOfField, Sheet, NzButtonModule, RouterLink, BalanceDrawing, GroupedPipe, ShortDayPipe, Refused, PegPicture, PlanningNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './item-record.page.html',
  styleUrls: ['./planning.less', './item-record.page.less'],
})
export class ItemRecordPage {
  readonly itemId = input.required({ transform: numberAttribute });
  readonly warehouseId = input.required({ transform: numberAttribute });
  private readonly client = inject(ApiClient);
  private readonly askRecord = lastAsked();
  private readonly askPegs = lastAsked();
  private readonly ngrx = inject(Store);
  protected readonly record = signal<ItemRecord | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly period = signal<'day' | 'week' | 'month'>('week');
  protected readonly pegged = signal<{ readonly event: RecordEventView; readonly way: 'up' | 'down'; readonly pegs: readonly PegView[] } | null>(
    null,
  );
  protected readonly periods = ['day', 'week', 'month'] as const;
  protected readonly what = WHAT;
  protected readonly strip = computed(() => {
    const record = this.record();
    return record && stripOf(record);
  });
  protected readonly phases = computed(() => {
    const record = this.record();
    if (!record) return null;
    const { opening, phases } = timePhased(record.events, record.decimals, record.today, record.horizon, this.period());
    return { opening, phases: phases.slice(0, MOST_PERIODS) };
  });
  /** Every event with the balance after it. */
  protected readonly running = computed(() => {
    const record = this.record();
    if (!record) return [];
    const unit = 10 ** record.decimals;
    let balance = 0;
    return record.events.map((event, index) => {
      balance += Math.round(Number(event.quantity) * unit);
      return { ...event, key: index, balance: String(balance / unit), moved: event.given !== event.day && event.what !== 'stock' };
    });
  });

  constructor() {
    effect(() => {
      const place = { itemId: this.itemId(), warehouseId: this.warehouseId() };
      untracked(() => {
        this.askPegs(of(null), { next: (none) => this.pegged.set(none) });
        this.ngrx.dispatch(focusActions.point(place));
        this.load();
      });
    });
    whenHeard(
      () => ['plan'],
      () => this.load(),
    );
  }

  private load(): void {
    const params = { itemId: this.itemId(), warehouseId: this.warehouseId() };
    this.askRecord(this.client.call(api.planning.getRecord, { params }), {
      next: (record) => this.record.set(record),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected isSupply(event: RecordEventView): boolean {
    return event.what === 'receipt' || event.what === 'suggestion';
  }

  protected isDemand(event: RecordEventView): boolean {
    return !this.isSupply(event) && event.what !== 'stock' && event.what !== 'leaves';
  }

  /** Shows whom a supply serves, up to the customers; or what serves a demand, down to what is bought. */
  protected follow(event: RecordEventView): void {
    const error = (refused: unknown): void => this.problem.set(problemOf(refused));
    if (event.what === 'receipt' || event.what === 'suggestion')
      this.askPegs(this.client.call(api.planning.getServed, { query: { kind: event.what, id: event.id } }), {
        next: ({ served }) => this.pegged.set({ event, way: 'up', pegs: served }),
        error,
      });
    else
      this.askPegs(
        this.client.call(api.planning.getServing, { query: { itemId: this.itemId(), warehouseId: this.warehouseId(), demand: event.id } }),
        {
          next: ({ serving }) => this.pegged.set({ event, way: 'down', pegs: serving }),
          error,
        },
      );
  }
}
