/** Order intake and backlog, week by week: what came in beside what is still to ship. */
import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, DestroyRef, computed, effect, inject, input, viewChild } from '@angular/core';
import { BarController, BarElement, CategoryScale, Chart, LinearScale } from 'chart.js';
import type { SellingFigures } from '@terrace/contract';
import { grouped, shortDay } from '../ui/format';

Chart.register(BarController, BarElement, CategoryScale, LinearScale);

@Component({
  selector: 't-weeks-chart',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '<div><canvas #canvas role="img" [attr.aria-label]="words()"></canvas></div>',
  styles: ':host { display: block; min-width: 0; overflow: hidden; } div { height: 220px; position: relative; }',
})
export class WeeksChart {
  readonly weeks = input.required<SellingFigures['weeks']>();
  protected readonly words = computed(() =>
    this.weeks()
      .map(({ week, intake, backlog }) => `Week of ${shortDay(week)}: ${grouped(intake)} taken, ${grouped(backlog)} to ship.`)
      .join(' '),
  );
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private chart: Chart | null = null;

  constructor() {
    effect(() => {
      const weeks = this.weeks();
      const style = getComputedStyle(document.documentElement);
      const colour = (name: string): string => style.getPropertyValue(name).trim();
      const bars = (label: string, colourName: string, data: number[]) => ({ label, data, backgroundColor: colour(colourName), maxBarThickness: 18 });
      this.chart?.destroy();
      this.chart = new Chart(this.canvas().nativeElement, {
        type: 'bar',
        data: {
          labels: weeks.map(({ week }) => shortDay(week)),
          datasets: [
            bars(
              'Taken',
              '--supply',
              weeks.map(({ intake }) => Number(intake)),
            ),
            bars(
              'To ship',
              '--demand',
              weeks.map(({ backlog }) => Number(backlog)),
            ),
          ],
        },
        options: {
          animation: false,
          maintainAspectRatio: false,
          scales: {
            x: { grid: { display: false }, ticks: { color: colour('--quiet') } },
            y: { grid: { color: colour('--line') }, ticks: { color: colour('--quiet') } },
          },
        },
      });
    });
    inject(DestroyRef).onDestroy(() => this.chart?.destroy());
  }
}
