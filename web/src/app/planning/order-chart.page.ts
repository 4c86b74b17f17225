/** The time chart of one customer's order, on a page of its own. */
import { ChangeDetectionStrategy, Component, input, numberAttribute } from '@angular/core';
import { OrderChart } from './order-chart';
import { PlanningNav } from './planning-nav';

@Component({
  imports: [OrderChart, PlanningNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-planning-nav />
    <div class="notes"></div>
    <t-order-chart [id]="id()" />
  `,
  styleUrl: './planning.less',
})
export class OrderChartPage {
  readonly id = input.required({ transform: numberAttribute });
}
