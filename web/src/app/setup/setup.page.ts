/** Set-up: people, and the way to the stand-ins and the API. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { OneOfField } from '../ui/one-of';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';

type CreditRule = AnswerOf<typeof api.selling.getCreditRule>['rule'];
const CREDIT_RULES: readonly { readonly value: CreditRule; readonly words: string }[] = [
  { value: 'off', words: 'Nothing' },
  { value: 'warn', words: 'Warn whoever confirms' },
  { value: 'stop', words: 'Stop the order' },
];

@Component({
  imports: [OneOfField, Sheet, RouterLink, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Set-up</h1>
      <t-refusal [problem]="problem()" />
      <div class="acts">
        <a class="act" routerLink="/set-up/outbox">Outbox: mail that was sent</a><a class="act" routerLink="/set-up/api">API: try a route</a>
        @if (rights().has('setup.audit')) {
          <a class="act" routerLink="/set-up/audit">Audit log: who came in, and what was refused</a>
        }
      </div>
      <section class="pane">
        <h2>People</h2>
        <t-sheet>
          <thead>
            <tr>
              <th>Name</th>
              <th>Signs in as</th>
              <th>Role</th>
            </tr>
          </thead>
          <tbody>
            @for (each of people(); track each.id) {
              <tr>
                <td>{{ each.name }}</td>
                <td class="code">{{ each.login }}</td>
                <td>{{ each.role }}</td>
              </tr>
            }
          </tbody>
        </t-sheet>
      </section>
      <section class="pane">
        <h2>Credit limits</h2>
        <p class="quiet">Where an order takes a customer beyond what they may owe: open invoices, what has shipped, and what is still to ship.</p>
        @if (rights().has('setup.edit')) {
          <t-one-of label="Beyond the credit limit" [options]="creditRules" [value]="creditRule()" (chosen)="setCreditRule($event)" />
        } @else {
          <p>{{ creditWords() }}</p>
        }
      </section>
      <section class="pane">
        <h2>Warehouses and bins</h2>
        <t-sheet>
          <tbody>
            @for (each of choices.all().warehouses; track each.id) {
              <tr>
                <td class="code">{{ each.code }}</td>
                <td>{{ each.name }}</td>
                <td class="quiet">{{ binsOf(each.id) }}</td>
              </tr>
            }
          </tbody>
        </t-sheet>
      </section>
      <section class="pane">
        <h2>Reasons to adjust stock</h2>
        <t-sheet>
          <tbody>
            @for (each of choices.all().reasons; track each.code) {
              <tr>
                <td class="code">{{ each.code }}</td>
                <td>{{ each.name }}</td>
                <td class="quiet">{{ each.noteNeeded ? 'needs a note' : '' }}</td>
              </tr>
            }
          </tbody>
        </t-sheet>
      </section>
    </div>
  `,
})
export class SetupPage {
  protected readonly choices = inject(Choices);
  protected readonly people = signal<AnswerOf<typeof api.platform.users>>([]);
  protected readonly problem = signal<Problem | null>(null);
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly creditRules = CREDIT_RULES;
  protected readonly creditRule = signal<CreditRule>('warn');
  protected readonly creditWords = computed(() => CREDIT_RULES.find((each) => each.value === this.creditRule())?.words ?? '');

  constructor() {
    this.client
      .call(api.platform.users)
      .subscribe({ next: (people) => this.people.set(people), error: (error: unknown) => this.problem.set(problemOf(error)) });
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

  protected binsOf(warehouseId: number): string {
    return this.choices
      .all()
      .bins.filter((each) => each.warehouseId === warehouseId)
      .map((each) => each.code)
      .join(', ');
  }
}
