/** An exchange rate that something was refused for the lack of, entered where it is missed. */
import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { NumberField } from './fields';
import { Labelled } from './labelled';
import { CompanyCurrency } from './money';

export interface RateMissing {
  readonly currency: string;
  /** The day for which there is none. */
  readonly day: string;
}

/** Which rate a refusal misses; none where it is about something else. */
export function rateMissing(problem: Problem | null): RateMissing | null {
  const { currency, day } = problem?.code === 'noRate' ? problem.details : {};
  return typeof currency === 'string' && typeof day === 'string' ? { currency, day } : null;
}

@Component({
  selector: 't-missing-rate',
  imports: [Labelled, NumberField, NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (set()) {
      <span role="status">{{ set() }}</span>
    } @else if (rights().has('catalogue.edit')) {
      <form class="acts" (submit)="save($event)">
        <t-field [name]="'1 ' + missing().currency + ' is worth, in ' + books.code()">
          <t-number [label]="'What 1 ' + missing().currency + ' is worth'" [(value)]="rate" [refused]="refused()" />
        </t-field>
        <button nz-button class="act small" [disabled]="busy() || rate() === ''">Set it from {{ missing().day }} on</button>
      </form>
    } @else {
      <span>Ask somebody who keeps the catalogue to enter it.</span>
    }
  `,
  styles: 'form { align-items: end; }',
})
export class MissingRate {
  readonly missing = input.required<RateMissing>();
  private readonly client = inject(ApiClient);
  protected readonly books = inject(CompanyCurrency);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly rate = signal('');
  protected readonly busy = signal(false);
  protected readonly refused = signal('');
  /** What was set, in words. */
  protected readonly set = signal('');

  constructor() {
    effect(() => {
      this.missing();
      untracked(() => {
        this.rate.set('');
        this.set.set('');
      });
    });
  }

  protected save(event: Event): void {
    event.preventDefault();
    const { currency, day } = this.missing();
    const rate = this.rate();
    this.busy.set(true);
    this.refused.set('');
    this.client.call(api.catalogue.saveCurrency, { body: { code: currency, date: day, rate } }).subscribe({
      next: () => {
        this.busy.set(false);
        this.set.set(`1 ${currency} is worth ${this.books.behind(rate)} from ${day} on: do it again.`);
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.refused.set(problemOf(error).message);
      },
    });
  }
}
