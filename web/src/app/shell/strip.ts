/** The balance strip: the focus item's projected balance over the next weeks, drawn. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { debounceTime, filter } from 'rxjs';
import { api, type BalanceStrip } from '@terrace/contract';
import { pageOf } from '../ui/documents';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { BalanceDrawing } from '../ui/balance-drawing';
import { ApiClient } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { Choices } from '../client/choices';
import { focusFeature } from './focus.state';
import { whenMissed } from '../client/heard';
import { liveFeature } from '../client/live.state';
import { Tip } from '../ui/tip';

const SETTLE_MS = 120;

@Component({
  selector: 't-strip',
  imports: [Tip, NzButtonModule, RouterLink, GroupedPipe, ShortDayPipe, BalanceDrawing],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (strip(); as item) {
      <section [class.folded]="folded()" aria-label="Balance strip">
        <div class="who">
          <a [routerLink]="page()" class="code">{{ item.item.code }}</a>
          <span class="name">{{ item.item.description }}</span>
          <span class="quiet">in {{ item.warehouse }}, {{ item.item.unit }}</span>
          <button nz-button type="button" class="act plain small" [attr.aria-expanded]="!folded()" tTip="B" (click)="fold.emit()">
            {{ folded() ? 'Unfold' : 'Fold' }}
          </button>
        </div>
        @if (!folded()) {
          <dl>
            <div>
              <dt>On hand</dt>
              <dd>{{ item.onHand | grouped }}</dd>
            </div>
            <div>
              <dt>Free</dt>
              <dd>{{ item.free | grouped }}</dd>
            </div>
            <div>
              <dt>Expected in</dt>
              <dd class="in">{{ item.expectedIn | grouped }}</dd>
            </div>
            <div>
              <dt>Expected out</dt>
              <dd class="out">{{ item.expectedOut | grouped }}</dd>
            </div>
            @if (item.expiring !== '0') {
              <div>
                <dt>Will expire</dt>
                <dd class="out">{{ item.expiring | grouped }}</dd>
              </div>
            }
            <div>
              <dt>First short</dt>
              <dd [class.trouble]="item.firstShort">{{ item.firstShort ? (item.firstShort | shortDay) : 'never' }}</dd>
            </div>
          </dl>
          <t-balance-drawing [strip]="item" [height]="82" />
        } @else {
          <span class="quiet">free {{ item.free | grouped }} · first short {{ item.firstShort ? (item.firstShort | shortDay) : 'never' }}</span>
        }
      </section>
    }
  `,
  styles: `
    section {
      display: grid;
      grid-template-columns: 190px auto 1fr;
      gap: 0 16px;
      align-items: stretch;
      height: 88px;
      background: var(--surface);
      border-top: 2px solid var(--line-strong);
      padding: 0 0 0 14px;
    }
    section.folded {
      height: 30px;
      grid-template-columns: auto auto 1fr;
      align-items: center;
      .who {
        grid-auto-flow: column;
        align-items: center;
        gap: 8px;
      }
    }
    .who {
      display: grid;
      align-content: center;
      justify-items: start;
      line-height: 1.25;
      min-width: 0;
    }
    .who .code {
      font-weight: 700;
    }
    .name {
      font-size: 13px;
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
      max-width: 100%;
    }
    .who .quiet {
      font-size: 12px;
    }
    .who .act {
      height: 20px;
      padding: 0;
    }
    dl {
      margin: 0;
      display: grid;
      grid-auto-flow: column;
      gap: 16px;
      align-items: center;
    }
    dt {
      font-size: 12px;
      color: var(--quiet);
      white-space: nowrap;
    }
    dd {
      margin: 0;
      font: 600 16px var(--figures);
      white-space: nowrap;
    }
    .in {
      color: var(--supply);
    }
    .out {
      color: var(--demand);
    }
    t-balance-drawing {
      min-width: 0;
    }
  `,
})
export class Strip {
  readonly folded = input(false);
  readonly fold = output();
  private readonly client = inject(ApiClient);
  private readonly store = inject(Store);
  private readonly choices = inject(Choices);
  private readonly itemId = this.store.selectSignal(focusFeature.selectItemId);
  private readonly focusWarehouse = this.store.selectSignal(focusFeature.selectWarehouseId);
  protected readonly strip = signal<BalanceStrip | null>(null);
  protected readonly page = computed(() => pageOf('item', this.itemId() ?? 0));
  private readonly ask = lastAsked();

  constructor() {
    effect(() => {
      const item = this.itemId();
      const warehouse = this.focusWarehouse() ?? this.choices.warehouseId();
      if (item !== null && warehouse > 0) untracked(() => this.load(item, warehouse));
    });
    this.store
      .select(liveFeature.selectLast)
      .pipe(
        filter((event) => event?.topic === 'plan' || (event?.topic === 'stock' && event.id === this.itemId()) || event?.topic === 'customerOrder'),
        debounceTime(SETTLE_MS),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.loadAgain());
    whenMissed(() => this.loadAgain());
  }

  private loadAgain(): void {
    const item = this.itemId();
    if (item !== null) this.load(item, this.focusWarehouse() ?? this.choices.warehouseId());
  }

  private load(item: number, warehouse: number): void {
    this.ask(this.client.beside(api.stores.strip, { query: { item, warehouse } }, null), { next: (strip) => this.strip.set(strip) });
  }
}
