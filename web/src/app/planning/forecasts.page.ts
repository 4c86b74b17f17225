/** Items that are forecast, the chosen one beside; all of them forecast anew while one looks on. */
import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { exhaustMap, takeWhile, timer } from 'rxjs';
import { api, type ForecastJob } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow } from '../ui/grid-cells';
import { ItemField } from '../ui/item-field';
import { Refused } from '../ui/refusal';
import { ForecastPanel } from './forecast-panel';
import { PlanningNav } from './planning-nav';
import { Progress } from '../ui/progress';
import { Note } from '../ui/note';

const EVERY_MS = 400;

@Component({
  imports: [Note, Progress, NzButtonModule, Beside, Grid, ItemField, Refused, ForecastPanel, PlanningNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Forecast</h1>
    <t-planning-nav />
    <div class="notes">
      <t-refusal [problem]="problem()" />
      @if (job(); as state) {
        @if (state.running) {
          <t-note kind="calm" role="status">
            <span>Forecasting: {{ state.done }} of {{ state.all }} <t-progress [done]="state.done" [of]="state.all" label="Forecasting" /></span>
            <button nz-button type="button" class="act small" (click)="stop()">Stop</button>
          </t-note>
        } @else if (state.all > 0) {
          <t-note kind="calm">
            <span
              >{{ state.done }} of {{ state.all }} forecast anew{{ state.stopped ? ', then stopped' : ''
              }}{{ state.failed > 0 ? '; ' + state.failed + ' have too little history' : '' }}. What was typed is kept.</span
            >
            <button nz-button type="button" class="act small" (click)="job.set(null)">Hide</button>
          </t-note>
        }
      }
    </div>
    <t-beside>
      <t-grid
        list
        name="forecasts"
        [route]="route"
        [columns]="columns"
        [topics]="['item', 'forecast']"
        emptyWords="Nothing is forecast yet: choose an item."
        (pointed)="point($event)"
      >
        @if (rights().has('planning.run')) {
          <button nz-button tool type="button" class="act small" [disabled]="job()?.running === true" (click)="run()">Forecast all anew</button>
        }
      </t-grid>
      <div record>
        @if (rights().has('planning.run')) {
          <div class="another">
            <t-item-field label="Forecast another item" (taken)="begin($event.id)" />
          </div>
        }
        @if (at(); as place) {
          <t-forecast-panel [itemId]="place.itemId" [warehouseId]="place.warehouseId" />
        }
      </div>
    </t-beside>
  `,
  styleUrl: './planning.less',
  styles: '.another { padding: 10px 20px 0; }',
})
export class ForecastsPage {
  private readonly client = inject(ApiClient);
  private readonly choices = inject(Choices);
  private readonly destroyed = inject(DestroyRef);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly route = api.planning.listForecasts;
  protected readonly at = signal<{ readonly itemId: number; readonly warehouseId: number } | null>(null);
  protected readonly job = signal<ForecastJob | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly warehouseId = computed(() => this.choices.warehouseId());
  protected readonly columns: readonly GridColumn[] = [
    { field: 'code', title: 'Item', kind: 'code', width: 110 },
    { field: 'description', title: 'Description', kind: 'text' },
    { field: 'warehouse', title: 'In', kind: 'text', width: 80 },
    { field: 'method', title: 'Method', kind: 'text', width: 150 },
    { field: 'mase', title: 'Error', kind: 'count', width: 80 },
    { field: 'next', title: 'Next three', kind: 'figure', width: 130, unit: 'unit' },
    { field: 'typed', title: 'Typed', kind: 'count', width: 70 },
    { field: 'counted', title: 'Plan counts', kind: 'text', width: 100, hidden: true },
    { field: 'period', title: 'By', kind: 'text', width: 70, hidden: true },
  ];

  protected point(row: GridRow): void {
    this.at.set({ itemId: Number(row['itemId']), warehouseId: Number(row['warehouseId']) });
  }

  protected begin(itemId: number): void {
    const place = { itemId, warehouseId: this.warehouseId() };
    this.problem.set(null);
    this.client.call(api.planning.computeForecast, { body: place }).subscribe({
      next: () => this.at.set(place),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected run(): void {
    this.client.call(api.planning.runForecasts).subscribe({
      next: (job) => {
        this.job.set(job);
        this.watch();
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected stop(): void {
    this.client
      .call(api.planning.stopForecasts)
      .subscribe({ next: (job) => this.job.set(job), error: (error: unknown) => this.problem.set(problemOf(error)) });
  }

  private watch(): void {
    timer(EVERY_MS, EVERY_MS)
      .pipe(
        exhaustMap(() => this.client.call(api.planning.getForecastJob)),
        takeWhile((job) => job.running, true),
        takeUntilDestroyed(this.destroyed),
      )
      .subscribe({ next: (job) => this.job.set(job), error: (error: unknown) => this.problem.set(problemOf(error)) });
  }
}
