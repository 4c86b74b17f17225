/** Where cash of a payment goes or comes from: a drawer that is open, or the bank. Drawers are asked for once somebody pays in cash. */
import { ChangeDetectionStrategy, Component, effect, inject, input, output, signal, untracked } from '@angular/core';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Control, type FieldTree } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { SelectField, SelectOption } from '../ui/select-field';

type OpenDrawer = AnswerOf<typeof api.accounts.openDrawers>[number];

@Component({
  selector: 't-cash-field',
  imports: [Control, Labelled, SelectField, SelectOption],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (wanted() && drawers().length > 0) {
      <t-field [name]="out() ? 'Cash comes from' : 'Cash goes to'">
        <t-select as="number" [formField]="field()">
          <t-option [value]="0" label="the bank" />
          @for (each of drawers(); track each.id) {
            <t-option [value]="each.id" label="{{ each.number }}, {{ each.warehouse }}" />
          }
        </t-select>
      </t-field>
    }
  `,
})
export class CashField {
  /** The drawer's; 0 for the bank. */
  readonly field = input.required<FieldTree<number>>();
  /** Whether it is cash that a drawer can hold. */
  readonly wanted = input.required<boolean>();
  /** Whether it is paid out. */
  readonly out = input(false);
  readonly failed = output<Problem>();
  private readonly client = inject(ApiClient);
  protected readonly drawers = signal<readonly OpenDrawer[]>([]);

  constructor() {
    effect(() => {
      if (this.wanted()) untracked(() => this.load());
    });
  }

  private load(): void {
    this.client.call(api.accounts.openDrawers, {}).subscribe({
      next: (found) => this.drawers.set(found),
      error: (error: unknown) => this.failed.emit(problemOf(error)),
    });
  }
}

/** A drawer as a body names it: none where the cash is brought to the bank, or nobody pays in cash. */
export function drawerIn({ method, drawerId }: { readonly method: string; readonly drawerId: number }): number | null {
  return method === 'cash' && drawerId > 0 ? drawerId : null;
}
