/** What stock is worth on any day, by group, warehouse or item. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { DateField } from '../ui/fields';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow } from '../ui/grid-cells';
import { Refused } from '../ui/refusal';
import { StoresNav } from './stores-nav';
import { InCurrencyPipe } from '../ui/money';
import { SelectField, SelectOption } from '../ui/select-field';
import { OneOfField, type OneOf } from '../ui/one-of';

type By = 'group' | 'warehouse' | 'item';

@Component({
  imports: [OneOfField, NzButtonModule, SelectField, SelectOption, InCurrencyPipe, Grid, DateField, Refused, StoresNav, GroupedPipe, LongDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-stores-nav />
    <div class="asked">
      <div class="total">
        <h1>{{ total() | grouped | inCurrency }}</h1>
        <span class="quiet">in stock at the end of {{ date() | longDay }}{{ place() === 0 ? '' : ', in ' + placeCode() }}</span>
      </div>
      <label class="field" style="width: 130px"
        ><span>On</span><t-date label="On" [value]="date()" (valueChange)="date.set($event)" [quiet]="true"
      /></label>
      <label class="field"
        ><span>In</span
        ><t-select [value]="place()" (valueChange)="place.set(+$event)">
          <t-option value="0" label="all warehouses" />
          @for (each of choices.all().warehouses; track each.id) {
            <t-option [value]="each.id" label="{{ each.code }}" />
          }</t-select
      ></label>
      <t-one-of label="By" [options]="ways" [value]="by()" (chosen)="by.set($event)" />
    </div>
    <t-refusal [problem]="problem()" />
    <t-grid
      name="worth"
      [route]="route"
      [query]="query()"
      [columns]="columns()"
      [topics]="['stock']"
      emptyWords="Nothing was in stock on this day."
      (opened)="open($event)"
    />
  `,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      height: 100%;
    }
    t-grid {
      flex: 1;
      min-height: 0;
    }
    .asked {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 20px;
      align-items: end;
      padding: 10px 12px;
    }
    .total {
      display: grid;
      margin-right: auto;
    }
    h1 {
      font: 650 22px var(--figures);
    }
  `,
})
export class WorthPage {
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  private readonly router = inject(Router);
  protected readonly choices = inject(Choices);
  private readonly today = toSignal(inject(Store).select(sessionFeature.selectToday), { initialValue: '' });
  protected readonly route = api.stores.worth;
  protected readonly ways: readonly OneOf<By>[] = [
    { value: 'group', words: 'by group' },
    { value: 'warehouse', words: 'by warehouse' },
    { value: 'item', words: 'by item' },
  ];
  protected readonly date = signal(this.today());
  protected readonly place = signal(0);
  protected readonly by = signal<By>('group');
  protected readonly total = signal('');
  protected readonly problem = signal<Problem | null>(null);
  protected readonly placeCode = computed(() => this.choices.all().warehouses.find((each) => each.id === this.place())?.code ?? '');
  protected readonly query = computed(() => ({ date: this.date() || undefined, by: this.by(), warehouse: this.place() || undefined }));
  protected readonly columns = computed((): readonly GridColumn[] => [
    {
      field: 'name',
      title: this.by() === 'item' ? 'Item' : this.by() === 'group' ? 'Group' : 'Warehouse',
      kind: 'code',
      width: 140,
    },
    { field: 'detail', title: 'Name', kind: 'text' },
    ...(this.by() === 'item'
      ? ([
          { field: 'quantity', title: 'On hand', kind: 'figure', width: 130, unit: 'unit' },
          { field: 'unitCost', title: 'Each', kind: 'figure', money: true, width: 130 },
        ] as const)
      : []),
    { field: 'value', title: 'Worth', kind: 'figure', money: true, width: 150 },
  ]);

  constructor() {
    effect(() => {
      const query = this.query();
      untracked(() =>
        this.ask(this.client.call(api.stores.worth, { query: { ...query, limit: 1 } }), {
          next: ({ value }) => {
            this.total.set(value);
            this.problem.set(null);
          },
          error: (error: unknown) => this.problem.set(problemOf(error)),
        }),
      );
    });
  }

  protected open(row: GridRow): void {
    if (typeof row['link'] === 'number') void this.router.navigate(['/catalogue/items', row['link']]);
  }
}
