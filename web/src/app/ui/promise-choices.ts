/** What can be offered where not all of a quantity is there when it is wanted: all at once later, or a part in time and the rest later. */
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { QUANTITY_SCALE, parseQuantity, readDecimal, subtractQuantity, writeQuantity } from '@terrace/core';
import { grouped, shortDay } from './format';

/** What was chosen for the line in hand. */
export interface PromiseChoice {
  /** In time, as a line of its own; empty where all comes at once. */
  readonly part: string;
  /** When the rest comes, or all of it. */
  readonly date: string;
}

interface Step {
  readonly date: string;
  readonly quantity: string;
}

@Component({
  selector: 't-promise-choices',
  imports: [NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (offered(); as choice) {
      <div class="acts" role="group" aria-label="Offer">
        <button nz-button type="button" class="act small" (click)="chosen.emit({ part: '', date: choice.date })">
          All of it on {{ day(choice.date) }}
        </button>
        @if (choice.part !== '') {
          <button nz-button type="button" class="act small" (click)="chosen.emit({ part: choice.part, date: choice.date })">
            {{ figure(choice.part) }} on {{ day(wanted()) }}, {{ figure(choice.rest) }} on {{ day(choice.date) }}
          </button>
        }
      </div>
    }
  `,
})
export class PromiseChoices {
  readonly quantity = input.required<string>();
  readonly wanted = input.required<string>();
  /** When all of it is there; `null` where that can't be told. */
  readonly date = input.required<string | null>();
  /** What can be promised from which day on, growing. */
  readonly steps = input.required<readonly Step[]>();
  readonly chosen = output<PromiseChoice>();
  protected readonly day = shortDay;
  protected readonly figure = grouped;
  protected readonly offered = computed(() => {
    const [date, wanted, quantity] = [this.date(), this.wanted(), this.quantity()];
    if (date === null || wanted === '' || date <= wanted || readDecimal(quantity) === null) return null;
    const inTime = this.steps().filter((step) => step.date <= wanted);
    const part = parseQuantity(inTime[inTime.length - 1]?.quantity ?? '0', QUANTITY_SCALE);
    const all = parseQuantity(quantity, QUANTITY_SCALE);
    if (part <= 0 || part >= all) return { date, part: '', rest: '' };
    return { date, part: writeQuantity(part), rest: writeQuantity(subtractQuantity(all, part)) };
  });
}
