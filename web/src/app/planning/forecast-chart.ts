/** History, what is forecast with its range, and what somebody typed over it. */
import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, DestroyRef, effect, inject, input, viewChild } from '@angular/core';
import { CategoryScale, Chart, Filler, LineController, LineElement, LinearScale, PointElement } from 'chart.js';
import type { ForecastView } from '@terrace/contract';
import { shortDay } from '../ui/format';

Chart.register(LineController, LineElement, PointElement, CategoryScale, LinearScale, Filler);

@Component({
  selector: 't-forecast-chart',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '<div><canvas #canvas role="img" [attr.aria-label]="words()"></canvas></div>',
  styles: ':host { display: block; min-width: 0; overflow: hidden; } div { height: 240px; position: relative; }',
})
export class ForecastChart {
  readonly forecast = input.required<ForecastView>();
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private chart: Chart | null = null;

  constructor() {
    effect(() => {
      const view = this.forecast();
      const style = getComputedStyle(document.documentElement);
      const colour = (name: string): string => style.getPropertyValue(name).trim();
      const past = view.history.length;
      const starts = [...view.history.map((each) => each.start), ...view.figures.map((each) => each.start)];
      const labels = starts.map((start) =>
        view.period === 'month' ? `${shortDay(start).split(' ')[1] ?? ''} ${start.slice(2, 4)}` : shortDay(start),
      );
      const ahead = (of: (each: ForecastView['figures'][number]) => string | null): (number | null)[] => [
        ...view.history.map(() => null),
        ...view.figures.map((each) => {
          const value = of(each);
          return value === null ? null : Number(value);
        }),
      ];
      const line = (colourName: string, data: (number | null)[], more: object = {}) => ({
        data,
        borderColor: colour(colourName),
        borderWidth: 2,
        pointRadius: 0,
        spanGaps: false,
        ...more,
      });
      const outliers = view.history.map((each) => (each.outlier ? Number(each.quantity) : null));
      this.chart?.destroy();
      this.chart = new Chart(this.canvas().nativeElement, {
        type: 'line',
        data: {
          labels,
          datasets: [
            line('--ink', [...view.history.map((each) => Number(each.quantity)), ...view.figures.map(() => null)]),
            line('--forecast', [...view.history.map((each) => (each.fit === null ? null : Number(each.fit))), ...view.figures.map(() => null)], {
              borderWidth: 1,
              borderDash: [4, 3],
            }),
            line('--trouble', [...outliers, ...view.figures.map(() => null)], { showLine: false, pointRadius: 5, pointStyle: 'rectRot' }),
            line(
              '--line-strong',
              ahead((each) => each.low),
              { borderWidth: 1, borderDash: [2, 3] },
            ),
            line(
              '--line-strong',
              ahead((each) => each.high),
              { borderWidth: 1, borderDash: [2, 3], fill: '-1', backgroundColor: `${colour('--forecast')}22` },
            ),
            line(
              '--forecast',
              ahead((each) => each.computed),
            ),
            line(
              '--demand',
              ahead((each) => each.typed),
              { showLine: false, pointRadius: 5, pointStyle: 'triangle', backgroundColor: colour('--demand') },
            ),
          ],
        },
        options: {
          animation: false,
          maintainAspectRatio: false,
          events: [],
          scales: {
            x: {
              grid: { color: (context) => (context.index === past ? colour('--line-strong') : 'transparent') },
              ticks: { color: colour('--quiet'), maxTicksLimit: 12, maxRotation: 0 },
            },
            y: { beginAtZero: true, grid: { color: colour('--line') }, ticks: { color: colour('--quiet'), maxTicksLimit: 6 } },
          },
        },
      });
    });
    inject(DestroyRef).onDestroy(() => this.chart?.destroy());
  }

  protected words(): string {
    const view = this.forecast();
    return `${view.history.length} ${view.period}s of history and ${view.figures.length} forecast, as in the table below`;
  }
}
