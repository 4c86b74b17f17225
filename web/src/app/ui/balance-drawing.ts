/**
 * The projected balance as a stepped line: ordered demand steps down, ordered supply steps up; the plan's suggestions
 * are a second, dashed line; below the safety level it is hatched.
 */
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { BalanceStrip } from '@terrace/contract';
import { LEFT, drawBalance } from './balance-lines';
import { longDay } from './format';
import { watchedWidth } from './watched-width';

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

  private readonly lines = computed(() => drawBalance(this.strip(), this.width(), this.height()));
  protected readonly balanceLine = computed(() => this.lines().balance);
  protected readonly plannedLine = computed(() => this.lines().planned);
  protected readonly zeroLine = computed(() => this.lines().zero);
  protected readonly safetyLine = computed(() => this.lines().safety);
  protected readonly shortArea = computed(() => this.lines().short);
  protected readonly weeks = computed(() => this.lines().weeks);
  protected readonly levels = computed(() => this.lines().levels);
  protected readonly marks = computed(() => this.lines().marks);
  protected readonly words = computed(
    () =>
      `Projected balance of ${this.strip().item.code}: ${this.strip().available} available, ${this.strip().events.length} events until ${longDay(this.strip().through)}, first short ${this.strip().firstShort ?? 'never'}`,
  );
}
