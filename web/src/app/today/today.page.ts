/** Today: what waits, and a few figures with their trend; every figure opens the list that it counts. */
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { debounceTime, filter } from 'rxjs';
import { liveFeature } from '../client/live.state';
import { sessionFeature } from '../client/session.state';
import { GroupedPipe, LongDayPipe, ShortDayPipe } from '../ui/format';
import { Refused } from '../ui/refusal';
import { TodayStore } from './today.store';
import { Trend } from './trend';
import { InCurrencyPipe } from '../ui/money';
import { Empty } from '../ui/empty';

const TOGETHER_MS = 800;

@Component({
  imports: [Empty, InCurrencyPipe, RouterLink, GroupedPipe, LongDayPipe, ShortDayPipe, Refused, Trend],
  providers: [TodayStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './today.page.html',
  styleUrl: './today.page.less',
})
export class TodayPage {
  protected readonly store = inject(TodayStore);
  protected readonly session = inject(Store).selectSignal(sessionFeature.selectSession);

  constructor() {
    this.store.load();
    inject(Store)
      .select(liveFeature.selectLast)
      .pipe(
        filter((event) => event !== null),
        debounceTime(TOGETHER_MS),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.store.load());
  }

  protected page(link: string): string {
    return link.split('?')[0] ?? link;
  }

  protected query(link: string): Record<string, string> {
    return Object.fromEntries(new URLSearchParams(link.split('?')[1] ?? ''));
  }
}
