/** One item's stock: drawn, by bin, by who holds it, and every event to come with the running balance. */
import { ChangeDetectionStrategy, Component, effect, inject, input, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { debounceTime, filter } from 'rxjs';
import { liveFeature } from '../shell/live.state';
import { sessionFeature } from '../shell/session.state';
import { BalanceDrawing } from '../ui/balance-drawing';
import { GroupedPipe, ShortDayPipe, pageOf } from '../ui/format';
import { Refused } from '../ui/refusal';
import { StockPanelStore } from './stock-panel.store';

const TOGETHER_MS = 200;

@Component({
  selector: 't-stock-panel',
  imports: [BalanceDrawing, RouterLink, Refused, GroupedPipe, ShortDayPipe],
  providers: [StockPanelStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (store.strip(); as strip) {
      <div class="page">
        <h1>
          <a class="code" [routerLink]="['/catalogue/items', itemId()]">{{ strip.item.code }}</a>&ngsp;<span class="quiet"
            >in {{ strip.warehouse }}</span
          >
        </h1>
        <p>{{ strip.item.description }}</p>
        <dl class="facts">
          <div>
            <dt>On hand</dt>
            <dd class="code">{{ strip.onHand | grouped }} {{ strip.item.unit }}</dd>
          </div>
          <div>
            <dt>Reserved</dt>
            <dd class="code">{{ strip.reserved | grouped }}</dd>
          </div>
          <div>
            <dt>Free</dt>
            <dd class="code">{{ strip.free | grouped }}</dd>
          </div>
          <div>
            <dt>Safety</dt>
            <dd class="code">{{ strip.safety | grouped }}</dd>
          </div>
          <div>
            <dt>First short</dt>
            <dd [class.trouble]="strip.firstShort">{{ strip.firstShort ? (strip.firstShort | shortDay) : 'never' }}</dd>
          </div>
        </dl>
        <t-refusal [problem]="store.problem()" />
        <section class="pane">
          <h2>Projected balance</h2>
          <t-balance-drawing [strip]="strip" [height]="180" />
          <p class="quiet">Solid: what is ordered. Dashed: with the plan’s suggestions. Dotted: safety. Hatched: below safety.</p>
        </section>
        <section class="pane">
          <h2>When</h2>
          <table class="sheet">
            <thead>
              <tr>
                <th>Date</th>
                <th>Document</th>
                <th class="figure">Change</th>
                <th class="figure">Balance</th>
                <th class="figure">With suggestions</th>
              </tr>
            </thead>
            <tbody>
              <tr>
                <td>now</td>
                <td class="quiet">available</td>
                <td></td>
                <td class="figure">{{ strip.available | grouped }}</td>
                <td class="figure">{{ strip.available | grouped }}</td>
              </tr>
              @for (event of strip.events; track $index) {
                <tr>
                  <td>{{ event.date | shortDay }}</td>
                  <td>
                    @if (event.link) {
                      <a class="code" [routerLink]="page(event.link.kind, event.link.id)">{{ event.document }}</a>
                    } @else {
                      <span class="code quiet">{{ event.document }}</span> <span class="quiet">suggested</span>
                    }
                  </td>
                  <td class="figure" [style.color]="event.kind === 'supply' ? 'var(--supply)' : 'var(--demand)'">
                    {{ event.kind === 'supply' ? '+' : '−' }}{{ event.quantity | grouped }}
                  </td>
                  <td class="figure">{{ event.firm ? (event.balance | grouped) : '' }}</td>
                  <td class="figure">{{ event.planned | grouped }}</td>
                </tr>
              }
            </tbody>
          </table>
        </section>
        <section class="pane">
          <h2>Where</h2>
          <table class="sheet">
            <tbody>
              @for (each of store.places(); track each.warehouse + each.bin + each.lot + each.state) {
                <tr>
                  <td>{{ each.warehouse }}</td>
                  <td class="code">{{ each.bin }}</td>
                  <td>{{ each.state }}</td>
                  <td class="figure">{{ each.quantity | grouped }}</td>
                </tr>
              } @empty {
                <tr>
                  <td class="quiet">Nowhere: there is none.</td>
                </tr>
              }
            </tbody>
          </table>
        </section>
        <section class="pane">
          <h2>Held for</h2>
          <table class="sheet">
            <tbody>
              @for (each of store.holders(); track each.id) {
                <tr>
                  <td>
                    <a class="code" [routerLink]="page(each.kind, each.documentId)">{{ each.document }}</a>
                  </td>
                  <td>{{ each.warehouse }}</td>
                  <td class="figure">{{ each.quantity | grouped }}</td>
                  <td>
                    @if (rights().has('selling.confirm')) {
                      <button type="button" class="act small" (click)="store.release(each.id)">Release</button>
                    }
                  </td>
                </tr>
              } @empty {
                <tr>
                  <td class="quiet">Nothing is reserved.</td>
                </tr>
              }
            </tbody>
          </table>
        </section>
      </div>
    }
  `,
})
export class StockPanel {
  readonly itemId = input.required<number>();
  readonly warehouseId = input.required<number>();
  protected readonly store = inject(StockPanelStore);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly page = pageOf;

  constructor() {
    effect(() => {
      const [item, warehouse] = [this.itemId(), this.warehouseId()];
      untracked(() => this.store.load(item, warehouse));
    });
    inject(Store)
      .select(liveFeature.selectLast)
      .pipe(
        filter((event) => event?.topic === 'stock' && event.id === this.itemId()),
        debounceTime(TOGETHER_MS),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.store.load(this.itemId(), this.warehouseId()));
  }
}
