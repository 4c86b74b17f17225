/** What the plan lacks, and rows that it had to leave out; each is mended beside the list, and the plan follows at once. */
import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { api } from '@terrace/contract';
import { ItemPanel } from '../catalogue';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow } from '../ui/grid-cells';
import { PlanningNav } from './planning-nav';
import { Note } from '../ui/note';

const ADVICE: Readonly<Record<string, string>> = {
  noRule: 'Say below how it is planned in that warehouse, or ship the order from another one.',
  inactiveItem: 'Make it active again below, or give whoever wants it something else.',
  noBom: 'Set up a bill of materials, or plan it as bought.',
  noSupplier: 'Say below who sells it, at what price and in how many days.',
  badRule: 'Correct the figures of its planning below.',
  cycle: 'Each of these waits for the other: take a line out of a bill of materials, or say that one of the warehouses buys it.',
  badDate: 'Give it a date that there is.',
  badQuantity: 'Give it a quantity that its unit can have.',
  noRate: 'Enter a rate under Catalogue, Groups and units, Currencies; then those suppliers are counted with again.',
  notPlanned: 'The plan stands as it was before; it follows again as soon as this is mended.',
  unknownItem: 'It names an item that there is not: correct it, or set the item up.',
  unknownWarehouse: 'It names a warehouse that there is not.',
};

@Component({
  imports: [Note, Beside, Grid, PlanningNav, ItemPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Data problems</h1>
    <t-planning-nav />
    <div class="notes"></div>
    <t-beside>
      <t-grid
        list
        name="plan-problems"
        [route]="route"
        [columns]="columns"
        [topics]="['plan']"
        emptyWords="Every row could be planned."
        (pointed)="at.set($event)"
      />
      <div record>
        @if (at(); as row) {
          <t-note>
            <span>{{ row['message'] }} {{ advice(row) }}</span>
          </t-note>
          @if (row['itemId']) {
            <t-item-panel [id]="+$any(row)['itemId']" [wide]="true" />
          }
        }
      </div>
    </t-beside>
  `,
  styleUrl: './planning.less',
})
export class ProblemsPage {
  protected readonly route = api.planning.listProblems;
  protected readonly at = signal<GridRow | null>(null);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'message', title: 'What the plan lacks', kind: 'text' },
    { field: 'subject', title: 'Where', kind: 'code', width: 180 },
  ];

  protected advice(row: GridRow): string {
    return ADVICE[String(row['code'])] ?? '';
  }
}
