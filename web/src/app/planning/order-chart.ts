/** All that must happen for a customer's order, over time: what decides when it is ready stands out. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { api, type OrderChart as Chart, type PegView } from '@terrace/contract';
import { chainOf, dateOf, dayOf, weekdayOf } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../shell/api-client';
import { whenHeard } from '../shell/heard';
import { GroupedPipe, grouped, longDay, shortDay } from '../ui/format';
import { Refused } from '../ui/refusal';
import { watchedWidth } from '../ui/watched-width';

const ROW = 26;
const TOP = 22;
const NARROWEST = 180;
/** Width of the names beside the bars: less where there is little room. */
const NAMES = 230;
const SHORT_NAMES = 170;
const LITTLE_ROOM = 620;
const MARGINS = 80;
const LONGEST_WEEKS = 14;

interface Bar {
  readonly key: string;
  readonly y: number;
  readonly label: string;
  readonly detail: string;
  readonly indent: number;
  readonly itemId: number;
  readonly critical: boolean;
  readonly x: number;
  readonly width: number;
  /** From when it was to be there to when it will be. */
  readonly lateX: number;
  readonly lateWidth: number;
  readonly kind: 'stock' | 'ordered' | 'suggested';
  readonly wantedX: number;
  readonly words: string;
}

/** Counts the charts drawn, so that each has a pattern of its own. */
let drawn = 0;
const DO: Readonly<Record<string, string>> = { buy: 'buy', make: 'make', transfer: 'transfer' };

@Component({
  selector: 't-order-chart',
  imports: [RouterLink, GroupedPipe, Refused],
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
                    <li [style.padding-left.px]="bar.indent" [class.critical]="bar.critical" [title]="bar.words">
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
          <p class="empty">Everything of it is shipped, or it is not confirmed yet: there is nothing to wait for.</p>
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
  protected readonly chart = signal<Chart | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly top = TOP;
  protected readonly hatch = `late-${(drawn += 1)}`;
  private readonly whole = watchedWidth(NARROWEST + NAMES + MARGINS);
  protected readonly names = computed(() => (this.whole() < LITTLE_ROOM ? SHORT_NAMES : NAMES));
  /** What is left for the bars beside the names. */
  protected readonly width = computed(() => Math.max(NARROWEST, this.whole() - this.names() - MARGINS));
  protected readonly lines = computed(() => (this.chart()?.lines ?? []).map((line) => this.draw(line)));

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
    const id = this.id();
    this.client.call(api.planning.getOrderChart, { params: { id } }).subscribe({
      next: (chart) => {
        if (this.id() !== id) return;
        this.chart.set(chart);
        this.problem.set(null);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  private draw(line: Chart['lines'][number]) {
    const today = this.chart()?.today ?? line.wanted;
    const rows = chainOf(line.served, today);
    const days = rows.flatMap(({ link }) => [link.start, link.ready ?? link.due, link.due]);
    const first = dayOf([today, ...days].sort()[0] ?? today);
    const last = Math.min(dayOf([line.wanted, today, ...days].sort().at(-1) ?? line.wanted) + 2, first + LONGEST_WEEKS * 7);
    const x = (date: string): number => ((Math.max(first, Math.min(dayOf(date), last)) - first) / (last - first)) * this.width();
    const bars = rows.map(({ link, depth, critical }, index): Bar => {
      const [startX, dueX] = [x(link.start), x(link.due)];
      return {
        key: `${index} ${link.id}`,
        y: TOP + index * ROW,
        label: link.code,
        detail: this.detail(link),
        indent: depth * 14,
        itemId: link.itemId,
        critical,
        x: link.kind === 'stock' ? x(today) : startX,
        width: link.kind === 'stock' ? 5 : Math.max(3, dueX - startX),
        lateX: dueX,
        lateWidth: link.ready !== null && link.ready > link.due ? x(link.ready) - dueX : 0,
        kind: link.kind === 'stock' ? 'stock' : link.kind === 'receipt' ? 'ordered' : 'suggested',
        wantedX: x(link.wanted),
        words: `${link.code} ${link.description}: ${this.detail(link)}, from ${longDay(link.start)}, ${link.ready === null ? 'without all that it needs' : `there ${longDay(link.ready)}`}, needed ${longDay(link.wanted)}`,
      };
    });
    const weeks: { x: number; words: string }[] = [];
    for (let day = first; day <= last; day += 1) if (weekdayOf(day) === 1) weeks.push({ x: x(dateOf(day)), words: shortDay(dateOf(day)) });
    const step = Math.max(1, Math.ceil((weeks.length * 52) / this.width()));
    const late = line.ready === null || line.ready > line.wanted;
    const verdict =
      line.ready === null
        ? `Wanted on ${longDay(line.wanted)}; a part of it has no supply at all.`
        : late
          ? `Wanted on ${longDay(line.wanted)}, can be ready on ${longDay(line.ready)}.`
          : `Wanted on ${longDay(line.wanted)}: can be kept.`;
    return {
      ...line,
      late,
      verdict,
      bars,
      wantedX: x(line.wanted),
      height: TOP + bars.length * ROW + 4,
      weeks: weeks.filter((_, index) => index % step === 0),
    };
  }

  private detail(peg: PegView): string {
    const figure = `${grouped(peg.quantity)} ${peg.unit}`;
    if (peg.kind === 'stock') return `${figure} in stock`;
    if (peg.kind === 'receipt') return `${figure} by ${peg.id}`;
    return `${DO[peg.source ?? ''] ?? ''} ${figure}`;
  }
}
