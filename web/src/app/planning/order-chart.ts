/** All that must happen for a customer's order, over time: what decides when it is ready stands out. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { api, type OrderChart as Chart } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { whenHeard } from '../client/heard';
import { GroupedPipe } from '../ui/format';
import { Refused } from '../ui/refusal';
import { watchedWidth } from '../ui/watched-width';
import { NARROWEST, TOP, drawLine, roomFor } from './order-bars';
import { Empty } from '../ui/empty';
import { Tip } from '../ui/tip';

/** Counts the charts drawn, so that each has a pattern of its own. */
let drawn = 0;

@Component({
  selector: 't-order-chart',
  imports: [Tip, Empty, RouterLink, GroupedPipe, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <t-refusal [problem]="problem()" />
      @if (chart(); as order) {
        <h1>
          <a class="code" [routerLink]="['/selling/orders', order.orderId]">{{ order.number }}</a> for {{ order.customer }}
        </h1>
        <p class="acts">
          <a class="act small" [href]="'/api/papers/orderChart/' + order.orderId" target="_blank" rel="noopener">Print for the customer</a>
          <a class="act small" routerLink="/planning" [queryParams]="{ order: order.orderId, number: order.number }">Suggestions for it</a>
          <span class="quiet">▬ decides when it is ready &nbsp; ▨ late &nbsp; │ wanted</span>
        </p>
        @for (line of lines(); track line.id) {
          <section class="pane">
            <h2>
              {{ line.quantity | grouped }} {{ line.unit }} <span class="code">{{ line.code }}</span> {{ line.description }}
            </h2>
            <p [class.trouble]="line.late">{{ line.verdict }}</p>
            <div class="acts">
              <a class="act small" routerLink="/planning/what-if" [queryParams]="{ move: line.id }">What if it were wanted on another day?</a>
            </div>
            @if (line.bars.length > 0) {
              <div
                class="chart"
                [style.grid-template-columns]="names() + 'px auto'"
                tabindex="0"
                role="group"
                [attr.aria-label]="'Time chart of ' + line.code"
              >
                <ul [style.padding-top.px]="top">
                  @for (bar of line.bars; track bar.key) {
                    <li [style.padding-left.px]="bar.indent" [class.critical]="bar.critical" [tTip]="bar.words">
                      <a [routerLink]="['/catalogue/items', bar.itemId]">{{ bar.label }}</a> <span class="quiet">{{ bar.detail }}</span>
                    </li>
                  }
                </ul>
                <svg [attr.width]="width()" [attr.height]="line.height" aria-hidden="true">
                  <defs>
                    <pattern [id]="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
                      <path d="M0 0v5" class="hatch" />
                    </pattern>
                  </defs>
                  @for (week of line.weeks; track week.x) {
                    <path class="week" [attr.d]="'M' + week.x + ' 0V' + line.height" />
                    <text class="axis" [attr.x]="week.x + 3" y="13">{{ week.words }}</text>
                  }
                  <path class="wanted" [attr.d]="'M' + line.wantedX + ' 16V' + line.height" />
                  @for (bar of line.bars; track bar.key) {
                    <rect
                      [attr.class]="bar.kind + (bar.critical ? ' critical' : '')"
                      [attr.x]="bar.x"
                      [attr.y]="bar.y + 7"
                      [attr.width]="bar.width"
                      height="12"
                    >
                      <title>{{ bar.words }}</title>
                    </rect>
                    @if (bar.lateWidth > 0) {
                      <rect
                        class="late"
                        [attr.fill]="'url(#' + hatch + ')'"
                        [attr.x]="bar.lateX"
                        [attr.y]="bar.y + 7"
                        [attr.width]="bar.lateWidth"
                        height="12"
                      />
                    }
                  }
                </svg>
              </div>
            } @else {
              <p class="quiet">Nothing is planned for it.</p>
            }
          </section>
        } @empty {
          <t-empty words="Everything of it is shipped, or it is not confirmed yet: there is nothing to wait for." />
        }
      }
    </div>
  `,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
    .chart {
      display: grid;
      justify-content: start;
      overflow-x: auto;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      min-width: 0;
    }
    li {
      height: 26px;
      line-height: 26px;
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
      font-size: 12.5px;
    }
    li.critical {
      font-weight: 700;
    }
    li .quiet {
      margin-left: 5px;
    }
    svg {
      display: block;
    }
    .week {
      stroke: var(--line);
    }
    .axis {
      fill: var(--quiet);
      font: 11px var(--figures);
    }
    .wanted {
      stroke: var(--demand);
      stroke-width: 2;
    }
    rect:not(.late) {
      fill: var(--surface);
      stroke: var(--supply);
      stroke-width: 1.2;
    }
    rect.stock {
      fill: var(--line-strong);
      stroke: none;
    }
    rect.ordered {
      fill: var(--supply);
      opacity: 0.55;
    }
    rect.critical {
      stroke: var(--ink);
      stroke-width: 3;
      opacity: 1;
    }
    /* The pattern says it without the colour. */
    rect.late {
      stroke: var(--trouble);
      stroke-width: 1;
    }
    .hatch {
      stroke: var(--trouble);
      stroke-width: 3;
    }
  `,
})
export class OrderChart {
  readonly id = input.required<number>();
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  protected readonly chart = signal<Chart | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly top = TOP;
  protected readonly hatch = `late-${(drawn += 1)}`;
  private readonly whole = watchedWidth(NARROWEST);
  protected readonly names = computed(() => roomFor(this.whole()).names);
  protected readonly width = computed(() => roomFor(this.whole()).bars);
  protected readonly lines = computed(() =>
    (this.chart()?.lines ?? []).map((line) => drawLine(line, this.chart()?.today ?? line.wanted, this.width())),
  );

  constructor() {
    effect(() => {
      this.id();
      untracked(() => this.load());
    });
    whenHeard(
      () => ['plan'],
      () => this.load(),
    );
  }

  private load(): void {
    this.ask(this.client.call(api.planning.getOrderChart, { params: { id: this.id() } }), {
      next: (chart) => {
        this.chart.set(chart);
        this.problem.set(null);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
