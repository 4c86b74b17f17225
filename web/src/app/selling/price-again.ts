/** Today's prices of an order, looked at line by line before any of them is taken. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { CheckField } from '../ui/check-field';
import { Dialog } from '../ui/dialog';
import { GroupedPipe } from '../ui/format';
import { InCurrencyPipe } from '../ui/money';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';

@Component({
  selector: 't-price-again',
  imports: [CheckField, Dialog, GroupedPipe, InCurrencyPipe, NzButtonModule, Refused, Sheet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-dialog heading="Price it again" (dropped)="dropped.emit()">
      <t-refusal [problem]="problem()" />
      @if (found(); as again) {
        @if (again.lines.length === 0) {
          <p>Every line is at the price of today already.</p>
        } @else {
          <p>The agreed prices stay unless you take those of today:</p>
          <t-sheet>
            <thead>
              <tr>
                <th><span class="sr">Take it</span></th>
                <th>Item</th>
                <th class="figure">{{ 'Agreed' | inCurrency: again.currency }}</th>
                <th class="figure">Today</th>
              </tr>
            </thead>
            <tbody>
              @for (line of again.lines; track line.id) {
                <tr [class.quiet]="!chosen().has(line.id)">
                  <td><t-check [label]="'Take the price of ' + line.code" [checked]="chosen().has(line.id)" (checkedChange)="turn(line.id)" /></td>
                  <td>
                    <span class="code">{{ line.code }}</span>
                    <div class="quiet">{{ line.steps.at(-1) }}</div>
                  </td>
                  <td class="figure">{{ line.from | grouped }}</td>
                  <td class="figure">
                    <b>{{ line.to | grouped }}</b>
                  </td>
                </tr>
              }
            </tbody>
          </t-sheet>
          <p>
            The total is {{ again.from | grouped | inCurrency: again.currency }} now; with all of these it would be
            {{ again.to | grouped | inCurrency: again.currency }}.
          </p>
        }
        <div class="acts">
          @if (again.lines.length > 0) {
            <button nz-button type="button" class="act first" [disabled]="chosen().size === 0" (click)="taken.emit([...chosen()])">
              Take {{ chosen().size }} {{ chosen().size === 1 ? 'price' : 'prices' }}
            </button>
          }
          <button nz-button type="button" class="act" (click)="dropped.emit()">Leave it</button>
        </div>
      }
    </t-dialog>
  `,
})
export class PriceAgain {
  readonly orderId = input.required<number>();
  /** The lines whose prices of today are taken. */
  readonly taken = output<number[]>();
  readonly dropped = output();
  private readonly client = inject(ApiClient);
  private readonly answer = signal<AnswerOf<typeof api.selling.pricesAgain> | null>(null);
  private readonly without = signal<ReadonlySet<number>>(new Set());
  protected readonly problem = signal<Problem | null>(null);
  protected readonly found = this.answer.asReadonly();
  protected readonly chosen = computed(
    (): ReadonlySet<number> => new Set((this.answer()?.lines ?? []).map((line) => line.id).filter((id) => !this.without().has(id))),
  );

  constructor() {
    effect(() => {
      const id = this.orderId();
      untracked(() =>
        this.client.call(api.selling.pricesAgain, { params: { id } }).subscribe({
          next: (answer) => this.answer.set(answer),
          error: (error: unknown) => this.problem.set(problemOf(error)),
        }),
      );
    });
  }

  protected turn(id: number): void {
    this.without.update((without) => {
      const next = new Set(without);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }
}
