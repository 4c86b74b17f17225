/** Credit limits: what happens where an order takes a customer beyond what they may owe. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { OneOfField } from '../ui/one-of';
import { Refused } from '../ui/refusal';

type CreditRule = AnswerOf<typeof api.selling.getCreditRule>['rule'];
const CREDIT_RULES: readonly { readonly value: CreditRule; readonly words: string }[] = [
  { value: 'off', words: 'Nothing' },
  { value: 'warn', words: 'Warn whoever confirms' },
  { value: 'stop', words: 'Stop the order' },
];

@Component({
  imports: [OneOfField, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Credit limits</h1>
      <t-refusal [problem]="problem()" />
      <p class="quiet">Where an order takes a customer beyond what they may owe: open invoices, what has shipped, and what is still to ship.</p>
      @if (rights().has('setup.edit')) {
        <t-one-of label="Beyond the credit limit" [options]="creditRules" [value]="creditRule()" (chosen)="setCreditRule($event)" />
      } @else {
        <p>{{ creditWords() }}</p>
      }
    </div>
  `,
})
export class CreditPage {
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly creditRules = CREDIT_RULES;
  protected readonly creditRule = signal<CreditRule>('warn');
  protected readonly creditWords = computed(() => CREDIT_RULES.find((each) => each.value === this.creditRule())?.words ?? '');

  constructor() {
    this.client
      .call(api.selling.getCreditRule)
      .subscribe({ next: ({ rule }) => this.creditRule.set(rule), error: (error: unknown) => this.problem.set(problemOf(error)) });
  }

  protected setCreditRule(rule: CreditRule): void {
    this.client.call(api.selling.setCreditRule, { body: { rule } }).subscribe({
      next: (kept) => this.creditRule.set(kept.rule),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
