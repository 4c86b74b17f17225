/** What stock would go to another inventory account, said before an item or its group is changed. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { GroupedPipe } from '../ui/format';
import { InCurrencyPipe } from '../ui/money';
import { Note } from '../ui/note';
import { Refused } from '../ui/refusal';

@Component({
  selector: 't-account-change',
  imports: [GroupedPipe, InCurrencyPipe, Note, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-refusal [problem]="problem()" />
    @if (moving(); as each) {
      <t-note kind="calm">
        <span>
          Saving posts {{ each.value | grouped | inCurrency }}, what the stock {{ itemId() === undefined ? 'of ' + counted() : '' }} is worth, from
          account {{ each.from }} to {{ each.to }}.
        </span>
      </t-note>
    }
  `,
})
export class AccountChange {
  /** The item that goes to the group; without it, the items that the group has. */
  readonly itemId = input<number>();
  readonly group = input.required<string>();
  /** The account that the group would have; its own unless this is given. */
  readonly account = input<string>();
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  private readonly answer = signal<AnswerOf<typeof api.stores.accountChange> | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly moving = computed(() => (this.answer()?.items ? this.answer() : null));
  protected readonly counted = computed(() => `${this.moving()?.items ?? 0} ${this.moving()?.items === 1 ? 'item' : 'items'}`);

  constructor() {
    effect(() => {
      const [item, group, account] = [this.itemId(), this.group(), this.account()];
      untracked(() => {
        const query = { group, ...(item === undefined ? {} : { item }), ...(account === undefined ? {} : { account }) };
        this.ask(this.client.call(api.stores.accountChange, { query }), {
          next: (answer) => {
            this.problem.set(null);
            this.answer.set(answer);
          },
          error: (error: unknown) => this.problem.set(problemOf(error)),
        });
      });
    });
  }
}
