/**
 * The projected balance as a stepped line: ordered demand steps down, ordered supply steps up; the plan's suggestions
 * are a second, dashed line; below the safety level it is hatched.
 */
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { dateOf, dayOf } from '@terrace/core';
import type { BalanceStrip } from '@terrace/contract';
import { grouped, longDay, shortDay } from './format';
import { watchedWidth } from './watched-width';

const TOP = 12;
const BOTTOM = 16;
const RIGHT = 12;
const LEFT = 44;

interface Mark {
  readonly x: number;
  readonly y: number;
  readonly kind: 'supply' | 'demand';
  readonly firm: boolean;
  readonly path: string;
  readonly words: string;
}

@Component({
  selector: 't-balance-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.width]="width()" [attr.height]="height()" role="img" [attr.aria-label]="words()">
      <defs>
        <pattern [id]="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0v5" class="hatch" />
        </pattern>
      </defs>
      @for (week of weeks(); track week.x) {
        <path class="week" [attr.d]="'M' + week.x + ' 4V' + (height() - 16)" />
        <text class="axis" [attr.x]="week.x + 3" [attr.y]="height() - 4">{{ week.words }}</text>
      }
      @for (level of levels(); track level.y) {
        <text class="axis" text-anchor="end" [attr.x]="left - 5" [attr.y]="level.y + 4">{{ level.words }}</text>
      }
      @if (shortArea(); as area) {
        <path [attr.d]="area" [attr.fill]="'url(#' + hatch + ')'" />
      }
      <path class="zero" [attr.d]="zeroLine()" />
      @if (safetyLine(); as line) {
        <path class="safety" [attr.d]="line" />
      }
      @if (plannedLine(); as line) {
        <path class="planned" [attr.d]="line" />
      }
      <path class="balance" [attr.d]="balanceLine()" />
      @for (mark of marks(); track $index) {
        <path [attr.class]="mark.kind + (mark.firm ? ' firm' : '')" [attr.d]="mark.path">
          <title>{{ mark.words }}</title>
        </path>
      }
    </svg>
  `,
  styles: `
    :host {
      display: block;
      overflow: hidden;
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
    .zero {
      stroke: var(--line-strong);
    }
    .safety {
      stroke: var(--forecast);
      stroke-dasharray: 2 3;
    }
    .balance {
      fill: none;
      stroke: var(--ink);
      stroke-width: 2;
    }
    .planned {
      fill: none;
      stroke: var(--supply);
      stroke-width: 1.5;
      stroke-dasharray: 5 3;
    }
    .supply {
      fill: var(--surface);
      stroke: var(--supply);
      stroke-width: 1.5;
    }
    .supply.firm {
      fill: var(--supply);
    }
    .demand {
      fill: var(--surface);
      stroke: var(--demand);
      stroke-width: 1.5;
    }
    .demand.firm {
      fill: var(--demand);
    }
    .hatch {
      stroke: var(--trouble);
      stroke-width: 1.6;
    }
  `,
})
export class BalanceDrawing {
  readonly strip = input.required<BalanceStrip>();
  readonly height = input(82);
  protected readonly left = LEFT;
  private readonly whole = watchedWidth(600);
  protected readonly width = computed(() => Math.max(200, this.whole()));
  protected readonly hatch = `short-${Math.random().toString(36).slice(2)}`;

  private readonly range = computed(() => {
    const { events, available, safety } = this.strip();
    const values = [0, Number(available), Number(safety), ...events.flatMap((event) => [Number(event.balance), Number(event.planned)])];
    const [low, high] = [Math.min(...values), Math.max(...values, 1)];
    return { low, high };
  });
  private readonly x = computed(() => {
    const first = dayOf(this.strip().today);
    const span = dayOf(this.strip().through) - first;
    return (date: string): number => LEFT + ((dayOf(date) - first) / span) * (this.width() - LEFT - RIGHT);
  });
  private readonly y = computed(() => {
    const { low, high } = this.range();
    return (value: number): number => TOP + ((high - value) / (high - low || 1)) * (this.height() - TOP - BOTTOM);
  });

  private line(of: 'balance' | 'planned', events: BalanceStrip['events']): string {
    const [x, y] = [this.x(), this.y()];
    const start = `M${LEFT} ${y(Number(this.strip().available))}`;
    return `${start}${events.map((event) => `H${x(event.date)}V${y(Number(event[of]))}`).join('')}H${this.width() - RIGHT}`;
  }

  private readonly firm = computed(() => this.strip().events.filter((event) => event.firm));
  protected readonly balanceLine = computed(() => this.line('balance', this.firm()));
  protected readonly plannedLine = computed(() =>
    this.strip().events.some((event) => !event.firm) ? this.line('planned', this.strip().events) : null,
  );
  protected readonly zeroLine = computed(() => `M${LEFT} ${this.y()(0)}H${this.width() - RIGHT}`);
  protected readonly safetyLine = computed(() =>
    this.strip().safety === '0' ? null : `M${LEFT} ${this.y()(Number(this.strip().safety))}H${this.width() - RIGHT}`,
  );

  /** Between the safety level (or nothing) and the balance, wherever that is lower. */
  protected readonly shortArea = computed(() => {
    const [x, y] = [this.x(), this.y()];
    const level = Number(this.strip().safety);
    const steps = [
      { at: LEFT, value: Number(this.strip().available) },
      ...this.firm().map((event) => ({ at: x(event.date), value: Number(event.balance) })),
    ];
    const parts = steps.flatMap((step, index) => {
      const until = steps[index + 1]?.at ?? this.width() - RIGHT;
      return step.value < level && until > step.at ? [`M${step.at} ${y(level)}H${until}V${y(step.value)}H${step.at}Z`] : [];
    });
    return parts.length === 0 ? null : parts.join('');
  });

  protected readonly weeks = computed(() => {
    const first = dayOf(this.strip().today);
    const span = dayOf(this.strip().through) - first;
    // As many whole weeks apart as leave room for the words.
    const every = 7 * Math.max(1, Math.ceil(52 / ((this.width() - LEFT - RIGHT) / (span / 7))));
    return Array.from({ length: Math.floor(span / every) }, (_, index) => dateOf(first + index * every)).map((date) => ({
      x: this.x()(date),
      words: shortDay(date),
    }));
  });
  protected readonly levels = computed(() => {
    const { low, high } = this.range();
    const texts = low < 0 ? [low, 0, high] : [0, high];
    return texts
      .map((value) => ({ y: this.y()(value), words: grouped(String(Math.round(value))) }))
      .filter((level, index, all) => index === 0 || Math.abs(level.y - (all[index - 1]?.y ?? 0)) > 11);
  });

  protected readonly marks = computed((): Mark[] =>
    this.strip().events.map((event) => {
      const at = this.x()(event.date);
      const level = this.y()(Number(event.firm ? event.balance : event.planned));
      const up = event.kind === 'supply';
      const path = up ? `M${at - 4} ${level - 2}h8l-4 -7z` : `M${at - 4} ${level + 2}h8l-4 7z`;
      const sign = up ? '+' : '−';
      return {
        x: at,
        y: level,
        kind: event.kind,
        firm: event.firm,
        path,
        words: `${longDay(event.date)}: ${sign}${grouped(event.quantity)} ${event.document}${event.firm ? '' : ' (suggested)'}, then ${grouped(event.firm ? event.balance : event.planned)}`,
      };
    }),
  );
  protected readonly words = computed(
    () =>
      `Projected balance of ${this.strip().item.code}: ${this.strip().available} available, ${this.strip().events.length} events until ${longDay(this.strip().through)}, first short ${this.strip().firstShort ?? 'never'}`,
  );
}
