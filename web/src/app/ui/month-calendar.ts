/** A month to pick a day from, beside a field for dates. */
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { LucideChevronLeft, LucideChevronRight } from '@lucide/angular';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { NzCalendarModule } from 'ng-zorro-antd/calendar';
import { addDays } from '@terrace/core';
import { longDay } from './format';

/** The same day of a month before or after, or the last day of one that is shorter. */
function monthsOn(day: string, months: number): string {
  const [year = 0, month = 1, at = 1] = day.split('-').map(Number);
  const last = new Date(Date.UTC(year, month + months, 0));
  last.setUTCDate(Math.min(at, last.getUTCDate()));
  return last.toISOString().slice(0, 10);
}

const STEPS: Readonly<Record<string, (day: string) => string>> = {
  ArrowLeft: (day) => addDays(day, -1),
  ArrowRight: (day) => addDays(day, 1),
  ArrowUp: (day) => addDays(day, -7),
  ArrowDown: (day) => addDays(day, 7),
  PageUp: (day) => monthsOn(day, -1),
  PageDown: (day) => monthsOn(day, 1),
};

/** The day that a key leads to from another: days by arrows, months by the page keys; null for any other key. */
export function reachedBy(key: string, day: string): string | null {
  return STEPS[key]?.(day) ?? null;
}

@Component({
  selector: 't-month-calendar',
  imports: [FormsModule, LucideChevronLeft, LucideChevronRight, NzButtonModule, NzCalendarModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="t-calendar" (mousedown)="$event.preventDefault()">
      <nz-calendar
        [nzFullscreen]="false"
        [nzCustomHeader]="head"
        [ngModel]="date()"
        [ngModelOptions]="{ standalone: true }"
        (nzSelectChange)="taken.emit(textOf($event))"
      />
      <p class="quiet" aria-live="polite">{{ words() }}</p>
    </div>
    <ng-template #head>
      <div class="head">
        <button nz-button type="button" class="act plain small" aria-label="Month before" (click)="turned.emit(before())">
          <svg lucideChevronLeft [size]="16"></svg>
        </button>
        <b>{{ month() }}</b>
        <button nz-button type="button" class="act plain small" aria-label="Next month" (click)="turned.emit(after())">
          <svg lucideChevronRight [size]="16"></svg>
        </button>
      </div>
    </ng-template>
  `,
  styles: `
    .head {
      display: flex;
      align-items: center;
      justify-content: space-between;
      padding: 4px 4px 2px;
    }
    p {
      padding: 0 8px 6px;
      font-size: 12px;
    }
  `,
})
export class MonthCalendar {
  /** The day it stands at, and today, as `2027-03-12`. */
  readonly day = input.required<string>();
  readonly today = input.required<string>();
  /** It stands at another day, which is not chosen yet. */
  readonly turned = output<string>();
  readonly taken = output<string>();
  protected readonly date = computed(() => new Date(`${this.day()}T12:00`));
  protected readonly month = computed(() => this.date().toLocaleDateString('en-GB', { month: 'long', year: 'numeric' }));
  protected readonly words = computed(() => (this.day() === this.today() ? 'today' : longDay(this.day())));
  protected readonly before = computed(() => monthsOn(this.day(), -1));
  protected readonly after = computed(() => monthsOn(this.day(), 1));

  protected textOf(date: Date): string {
    const two = (figure: number): string => String(figure).padStart(2, '0');
    return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;
  }
}
