/** A small trend: eight bars, the last one in full colour. Chart.js comes with the screen, not with the first load. */
import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, DestroyRef, effect, inject, input, viewChild } from '@angular/core';
import { BarController, BarElement, CategoryScale, Chart, LinearScale } from 'chart.js';

Chart.register(BarController, BarElement, CategoryScale, LinearScale);

@Component({
  selector: 't-trend',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '<div><canvas #canvas role="img" [attr.aria-label]="label()"></canvas></div>',
  styles: ':host { display: block; min-width: 0; overflow: hidden; } div { height: 44px; position: relative; }',
})
export class Trend {
  readonly values = input.required<readonly number[]>();
  readonly label = input.required<string>();
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private chart: Chart | null = null;

  constructor() {
    effect(() => {
      const values = [...this.values()];
      const style = getComputedStyle(document.documentElement);
      const [past, now] = [style.getPropertyValue('--line-strong'), style.getPropertyValue('--supply')];
      const colours = values.map((_, index) => (index === values.length - 1 ? now : past));
      this.chart?.destroy();
      this.chart = new Chart(this.canvas().nativeElement, {
        type: 'bar',
        data: {
          labels: values.map(String),
          datasets: [{ data: values, backgroundColor: colours, borderWidth: 0, barPercentage: 0.9, categoryPercentage: 1 }],
        },
        options: {
          animation: false,
          maintainAspectRatio: false,
          events: [],
          scales: { x: { display: false }, y: { display: false, beginAtZero: true } },
        },
      });
    });
    inject(DestroyRef).onDestroy(() => this.chart?.destroy());
  }
}
