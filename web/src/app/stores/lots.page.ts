/** Lots as of a day: first-expiring first; a slider for the life that must be left shows what would be short-dated. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { Store } from '@ngrx/store';
import { api } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { DateField } from '../ui/fields';
import { Grid } from '../ui/grid';
import type { GridColumn, GridView } from '../ui/grid-cells';
import { LotPanel } from './lot-panel';
import { SliderField } from '../ui/slider-field';
import { StoresNav } from './stores-nav';
import { CheckField } from '../ui/check-field';

const WAIT_MS = 120;

@Component({
  imports: [SliderField, CheckField, Beside, Grid, DateField, LotPanel, StoresNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Lots</h1>
    <t-stores-nav />
    <div class="asof">
      <label class="field" style="width: 130px"
        ><span>As of</span><t-date label="As of" [value]="asOf()" (valueChange)="asOf.set($event)" [quiet]="true"
      /></label>
      <label class="field life"
        ><span
          >Minimum remaining life: <b>{{ own() ? 'each item’s own minimum' : life() + ' days' }}</b></span
        ><t-slider label="Minimum remaining life, days" [max]="365" [step]="5" [value]="life()" (valueChange)="slide($event)"
      /></label>
      <t-check [checked]="own()" (checkedChange)="own.set($event)" class="quiet">each item’s own minimum</t-check>
      <t-check [checked]="gone()" (checkedChange)="gone.set($event)" class="quiet">also what is gone</t-check>
    </div>
    <t-beside>
      <t-grid
        list
        name="lots"
        [route]="route"
        [query]="query()"
        [columns]="columns"
        [views]="views"
        [topics]="['stock', 'lot']"
        emptyWords="No lots here. Items that are kept by lot show theirs once some arrive."
        (pointed)="chosen.set(+$event.id)"
      />
      <div record>
        @if (chosen() !== 0) {
          <t-lot-panel [id]="chosen()" />
        }
      </div>
    </t-beside>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto auto 1fr;
      height: 100%;
    }
    t-beside {
      min-height: 0;
    }
    .asof {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 20px;
      align-items: end;
      padding: 8px 12px;
      border-bottom: 1px solid var(--line);
    }
    .life {
      width: min(420px, 60vw);
      accent-color: var(--supply);
    }
  `,
})
export class LotsPage {
  private readonly today = toSignal(inject(Store).select(sessionFeature.selectToday), { initialValue: '' });
  protected readonly route = api.stores.listLots;
  protected readonly asOf = signal(this.today());
  protected readonly life = signal(60);
  protected readonly own = signal(true);
  protected readonly gone = signal(false);
  protected readonly chosen = signal(0);
  private waiting: ReturnType<typeof setTimeout> | undefined;
  private readonly settled = signal(60);
  protected readonly query = computed(() => ({
    asOf: this.asOf() || undefined,
    life: this.own() ? undefined : this.settled(),
    gone: this.gone() ? 'true' : undefined,
  }));
  protected readonly views: readonly GridView[] = [
    { key: 'all', title: 'All', filter: {} },
    { key: 'short', title: 'Short-dated then', filter: { shortDated: { op: 'equals', value: 'true' } } },
    { key: 'blocked', title: 'Blocked', filter: { blocked: { op: 'equals', value: 'true' } } },
  ];
  protected readonly columns: readonly GridColumn[] = [
    { field: 'lot', title: 'Lot', kind: 'code', width: 104 },
    { field: 'item', title: 'Item', kind: 'code', width: 96 },
    { field: 'description', title: 'Description', kind: 'text', hidden: true },
    { field: 'expiry', title: 'Expires', kind: 'date', width: 104, year: true },
    { field: 'remaining', title: 'Days left', kind: 'count', width: 84 },
    { field: 'shortDated', title: 'Then', kind: 'late', width: 72, mark: 'short' },
    { field: 'onHand', title: 'On hand', kind: 'figure', width: 116, unit: 'unit' },
    { field: 'available', title: 'Available', kind: 'figure', width: 90, hidden: true },
    { field: 'shortFrom', title: 'Short from', kind: 'date', width: 104, year: true, hidden: true },
    { field: 'places', title: 'Where', kind: 'text' },
    { field: 'blocked', title: 'Blocked', kind: 'flag', width: 76, hidden: true },
    { field: 'supplier', title: 'From', kind: 'text', hidden: true },
    { field: 'supplierLot', title: 'Their lot', kind: 'code', width: 100, hidden: true },
  ];

  /** Moving the slider recomputes at once; the server is asked when the hand rests for a moment. */
  protected slide(days: number): void {
    this.own.set(false);
    this.life.set(days);
    clearTimeout(this.waiting);
    this.waiting = setTimeout(() => this.settled.set(days), WAIT_MS);
  }
}
