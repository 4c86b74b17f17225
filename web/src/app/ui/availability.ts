/** The availability of the line in hand, read without opening anything. */
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type { Availability } from '@terrace/contract';
import { GroupedPipe, LongDayPipe, ShortDayPipe } from './format';
import { PromiseChoices, type PromiseChoice } from './promise-choices';

@Component({
  selector: 't-availability',
  imports: [NzButtonModule, GroupedPipe, LongDayPipe, PromiseChoices, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (availability(); as item) {
      <section aria-label="Availability" aria-live="polite">
        <h2 class="code">{{ item.item.code }}</h2>
        <p class="quiet">{{ item.item.description }}, in {{ item.item.unit }}</p>
        <p class="promise" [class.late]="late() || refused() !== ''">
          @if (refused() !== '') {
            {{ refused() }}
          } @else if (quantity() === '') {
            Type a quantity to see when it can be promised.
          } @else if (item.promise.date === null) {
            <b>{{ quantity() | grouped }} can’t be promised</b> from stock and what is ordered.
          } @else {
            <b>{{ quantity() | grouped }} from {{ item.promise.date | longDay }}</b
            >{{ late() ? ', later than wanted' : '' }}
          }
        </p>
        <t-promise-choices
          [quantity]="quantity()"
          [wanted]="wanted()"
          [date]="item.promise.date"
          [steps]="item.promise.steps"
          (chosen)="offered.emit($event)"
        />
        <dl>
          <div>
            <dt>On hand in {{ item.warehouse }}</dt>
            <dd>{{ item.onHand | grouped }}</dd>
          </div>
          <div>
            <dt>Reserved</dt>
            <dd>{{ item.reserved | grouped }}</dd>
          </div>
          <div class="strong">
            <dt>Free</dt>
            <dd>{{ item.free | grouped }}</dd>
          </div>
          <div>
            <dt>Available to promise</dt>
            <dd>{{ item.promise.quantityNow | grouped }}</dd>
          </div>
        </dl>
        <h3>Expected</h3>
        <ul>
          @for (each of item.expected; track each.document) {
            <li>
              <span>{{ each.date | shortDay }}</span><span class="code">{{ each.document }}</span
              ><span class="figure">{{ each.quantity | grouped }}</span>
            </li>
          } @empty {
            <li class="quiet">Nothing is ordered.</li>
          }
        </ul>
        <h3>Free elsewhere</h3>
        <ul>
          @for (each of item.elsewhere; track each.warehouseId) {
            <li>
              <span>{{ each.warehouse }}</span><span>
                @if (each.free !== '0') {
                  <button nz-button type="button" class="act small" (click)="elsewhere.emit(each.warehouseId)">Sell from there</button>
                }</span
              ><span class="figure">{{ each.free | grouped }}</span>
            </li>
          }
        </ul>
        @if (item.promise.steps.length > 1) {
          <h3>Can be promised from</h3>
          <ul>
            @for (each of item.promise.steps; track each.date) {
              <li>
                <span>{{ each.date | shortDay }}</span><span></span><span class="figure">{{ each.quantity | grouped }}</span>
              </li>
            }
          </ul>
        }
      </section>
    } @else {
      <p class="quiet">The availability of the line in hand shows here: what is free, what comes, and when all of it can be promised.</p>
    }
  `,
  styles: `
    section {
      display: grid;
      gap: 8px;
    }
    .promise {
      padding: 8px 10px;
      border-left: 4px solid var(--good);
      background: var(--good-soft);
      font-size: 13px;
      &.late {
        border-left-color: var(--trouble);
        background: var(--trouble-soft);
      }
    }
    dl {
      margin: 0;
      display: grid;
      gap: 3px;
      div {
        display: flex;
        justify-content: space-between;
      }
      dt {
        color: var(--quiet);
      }
      dd {
        margin: 0;
        font-family: var(--figures);
      }
      .strong {
        font-weight: 700;
        border-block: 1px solid var(--line);
        padding: 2px 0;
        dt {
          color: var(--ink);
        }
      }
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      font-size: 13px;
      display: grid;
      gap: 2px;
    }
    li {
      display: grid;
      grid-template-columns: 64px 1fr auto;
      gap: 8px;
      align-items: center;
    }
  `,
})
export class AvailabilityBeside {
  readonly availability = input.required<Availability | null>();
  readonly quantity = input('');
  /** Why nothing can be promised about the quantity that was typed. */
  readonly refused = input('');
  readonly wanted = input('');
  readonly elsewhere = output<number>();
  readonly offered = output<PromiseChoice>();
  protected readonly late = computed(() => {
    const date = this.availability()?.promise.date;
    if (this.quantity() === '' || date === undefined) return false;
    return date === null || (this.wanted() !== '' && date > this.wanted());
  });
}
