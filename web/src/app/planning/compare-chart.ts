/** A figure of two plans by period: today's plan quiet, what is supposed strong. */
import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, DestroyRef, effect, inject, input, viewChild } from '@angular/core';
import { BarController, BarElement, CategoryScale, Chart, LineController, LineElement, LinearScale, PointElement } from 'chart.js';
import { shortDay } from '../ui/format';

Chart.register(BarController, BarElement, LineController, LineElement, PointElement, CategoryScale, LinearScale);

export interface Compared {
  readonly start: string;
  readonly before: number;
  readonly after: number;
}

@Component({
  selector: 't-compare-chart',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '<div><canvas #canvas role="img" [attr.aria-label]="words()"></canvas></div>',
  styles: ':host { display: block; min-width: 0; overflow: hidden; } div { height: 130px; position: relative; }',
})
export class CompareChart {
  readonly rows = input.required<readonly Compared[]>();
  readonly type = input.required<'bar' | 'line'>();
  readonly words = input.required<string>();
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private chart: Chart | null = null;

  constructor() {
    effect(() => {
      const rows = this.rows();
      const type = this.type();
      const style = getComputedStyle(document.documentElement);
      const colour = (name: string): string => style.getPropertyValue(name).trim();
      const line = (name: string, data: number[], width: number, dash: number[]) => ({
        data,
        borderColor: colour(name),
        backgroundColor: colour(name),
        borderWidth: type === 'bar' ? 0 : width,
        borderDash: dash,
        pointRadius: 0,
        stepped: type === 'line' ? ('middle' as const) : false,
        barPercentage: 1,
        categoryPercentage: 0.7,
      });
      this.chart?.destroy();
      this.chart = new Chart(this.canvas().nativeElement, {
        type,
        data: {
          labels: rows.map((each) => shortDay(each.start)),
          datasets: [
            line(
              '--supply',
              rows.map((each) => each.after),
              2,
              [],
            ),
            line(
              '--line-strong',
              rows.map((each) => each.before),
              2,
              [4, 3],
            ),
          ].sort(() => (type === 'bar' ? -1 : 0)),
        },
        options: {
          animation: false,
          maintainAspectRatio: false,
          events: [],
          scales: {
            x: { grid: { display: false }, ticks: { color: colour('--quiet'), maxTicksLimit: 5, maxRotation: 0, font: { size: 11 } } },
            y: {
              beginAtZero: true,
              grid: { color: colour('--line') },
              ticks: { color: colour('--quiet'), maxTicksLimit: 4, font: { size: 11 }, callback: (value) => shortFigure(Number(value)) },
            },
          },
        },
      });
    });
    inject(DestroyRef).onDestroy(() => this.chart?.destroy());
  }
}

/** Thousands and millions in a few signs. */
function shortFigure(value: number): string {
  if (Math.abs(value) >= 1_000_000) return `${Math.round(value / 100_000) / 10} m`;
  return Math.abs(value) >= 1000 ? `${Math.round(value / 100) / 10} k` : String(value);
}
