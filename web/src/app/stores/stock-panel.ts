/** One item's stock, from four sides: where it is, when it changes, which pieces there are, how many could be built. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { debounceTime, filter } from 'rxjs';
import { whenMissed } from '../client/heard';
import { liveFeature } from '../client/live.state';
import { sessionFeature } from '../client/session.state';
import { BalanceDrawing } from '../ui/balance-drawing';
import { pageOf } from '../ui/documents';
import { GroupedPipe, ShortDayPipe, grouped } from '../ui/format';
import { Refused } from '../ui/refusal';
import { State } from '../ui/state';
import { HoldersList } from './reservations';
import { PlaceMove } from './place-move';
import { StockPanelStore, type Face, type PeriodLength } from './stock-panel.store';
import { CheckField } from '../ui/check-field';
import { Sheet } from '../ui/sheet';
import { OneOfField, type OneOf } from '../ui/one-of';

const TOGETHER_MS = 250;

@Component({
  selector: 't-stock-panel',
  imports: [
    OneOfField,
    Sheet,
    NzButtonModule,
    CheckField,
    BalanceDrawing,
    HoldersList,
    PlaceMove,
    Refused,
    State,
    RouterLink,
    GroupedPipe,
    ShortDayPipe,
  ],
  providers: [StockPanelStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './stock-panel.html',
  styles: `
    .act.open {
      padding: 0;
      color: var(--supply);
      font: inherit;
    }
    .inside td {
      background: var(--raised);
    }
    .here td {
      background: var(--chosen);
    }
  `,
})
export class StockPanel {
  readonly itemId = input.required<number>();
  readonly warehouseId = input.required<number>();
  protected readonly store = inject(StockPanelStore);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly page = pageOf;
  protected readonly faces: readonly OneOf<Face>[] = [
    { value: 'where', words: 'Where?' },
    { value: 'when', words: 'When?' },
    { value: 'which', words: 'Which?' },
    { value: 'howMany', words: 'How many could we build?' },
  ];
  protected readonly lengths: readonly OneOf<PeriodLength | 'single'>[] = [
    { value: 'day', words: 'by day' },
    { value: 'week', words: 'by week' },
    { value: 'month', words: 'by month' },
    { value: 'single', words: 'one by one' },
  ];
  protected readonly single = signal(false);
  protected readonly closing = signal(true);

  protected turn(length: PeriodLength | 'single'): void {
    this.single.set(length === 'single');
    if (length !== 'single') this.store.sum(length);
  }
  protected readonly opened = signal('');
  protected readonly moving = signal('');
  protected readonly pieces = computed(() => this.store.places().filter((each) => each.lot !== '' || each.serial !== ''));

  constructor() {
    effect(() => {
      const [item, warehouse] = [this.itemId(), this.warehouseId()];
      untracked(() => {
        this.moving.set('');
        this.opened.set('');
        this.store.load(item, warehouse);
      });
    });
    inject(Store)
      .select(liveFeature.selectLast)
      .pipe(
        filter((event) => event?.topic === 'stock' && event.id === this.itemId()),
        debounceTime(TOGETHER_MS),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.store.load(this.itemId(), this.warehouseId()));
    whenMissed(() => this.store.load(this.itemId(), this.warehouseId()));
  }

  protected keyOf(place: { binId: number; lot: string; serial: string; state: string }): string {
    return `${place.binId} ${place.lot} ${place.serial} ${place.state}`;
  }

  protected amount(quantity: string, sign: string): string {
    return quantity === '0' ? '' : `${sign}${grouped(quantity)}`;
  }

  protected within(from: string, through: string) {
    return this.store.when()?.events.filter((event) => event.date >= from && event.date <= through) ?? [];
  }
}
