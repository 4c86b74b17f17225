/** When the quantity in hand could be there if what is missing were bought and made for it, and what decides that day. */
import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { Store } from '@ngrx/store';
import { catchError, debounceTime, of, switchMap } from 'rxjs';
import { api, type Capable } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { GroupedPipe, LongDayPipe, ShortDayPipe } from './format';
import { PromiseChoices, type PromiseChoice } from './promise-choices';

const TOGETHER_MS = 200;
const DAY = /^\d{4}-\d{2}-\d{2}$/;
const FIGURE = /^\d+(\.\d+)?$/;

@Component({
  selector: 't-capable',
  imports: [GroupedPipe, LongDayPipe, PromiseChoices, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (capable(); as answer) {
      <section aria-label="If bought and made for it" aria-live="polite">
        <h3>If bought and made for it</h3>
        @if (answer.ready) {
          <p>
            <b>{{ quantity() | grouped }} on {{ answer.ready | longDay }}</b
            >{{ answer.ready > wanted() ? ', later than wanted' : '' }}
          </p>
          @if (answer.ready < (promised() ?? '9999')) {
            <t-promise-choices [quantity]="quantity()" [wanted]="wanted()" [date]="answer.ready" [steps]="steps()" (chosen)="offered.emit($event)" />
          }
          @if (answer.chain.length > 0) {
            <ol>
              @for (step of answer.chain; track $index) {
                <li>
                  {{ step.kind === 'receipt' ? step.id : step.source }} {{ step.quantity | grouped }} {{ step.unit }}
                  <span class="code">{{ step.code }}</span>: {{ step.start | shortDay }} to
                  {{ step.ready ? (step.ready | shortDay) : 'no day: a part has no supply' }}
                </li>
              }
            </ol>
          }
        } @else {
          <p class="trouble">Nothing says where all of it could come from: set up how it is planned here.</p>
        }
      </section>
    }
  `,
  styles: `
    section {
      margin: 12px 0 14px;
      font-size: 13px;
    }
    p {
      margin: 4px 0;
    }
    ol {
      margin: 0;
      padding-left: 18px;
    }
  `,
})
export class CapableBeside {
  readonly itemId = input.required<number>();
  readonly warehouseId = input.required<number>();
  readonly quantity = input('');
  readonly wanted = input('');
  /** When it can be promised from stock and what is ordered. */
  readonly promised = input<string | null>(null);
  /** What can be promised from stock and what is ordered, from which day on. */
  readonly steps = input<readonly { readonly date: string; readonly quantity: string }[]>([]);
  readonly offered = output<PromiseChoice>();
  private readonly client = inject(ApiClient);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  /** Only asked for where stock and what is ordered do not do in time. */
  private readonly query = computed(() => {
    const [quantity, wanted, promised] = [this.quantity(), this.wanted(), this.promised()];
    const asked = this.rights().has('planning.see') && FIGURE.test(quantity) && Number(quantity) > 0 && DAY.test(wanted);
    if (!asked || (promised !== null && promised <= wanted)) return null;
    return { itemId: this.itemId(), warehouseId: this.warehouseId(), quantity, wanted };
  });
  protected readonly capable = toSignal(
    toObservable(this.query).pipe(
      debounceTime(TOGETHER_MS),
      // A quantity that its unit can't have is told beside the field: here it only has no answer.
      switchMap((query) =>
        query === null ? of(null) : this.client.call(api.planning.getCapable, { query }).pipe(catchError(() => of<Capable | null>(null))),
      ),
    ),
    { initialValue: null },
  );
}
