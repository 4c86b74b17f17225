/** A price tried out: customer, item, quantity, day → price and why. */
import { ChangeDetectionStrategy, Component, effect, inject, signal, untracked } from '@angular/core';
import { Store } from '@ngrx/store';
import { api, type ItemChoice, type PriceAnswer } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { ChoiceField } from '../ui/choice-field';
import { DateField, NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { PriceWhy } from './price-why';
import { InCurrencyPipe } from '../ui/money';

@Component({
  imports: [InCurrencyPipe, Labelled, ChoiceField, ItemField, NumberField, DateField, PriceWhy, Refused, GroupedPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>What does it cost, and why?</h1>
      <div class="fields">
        <t-field name="Item"><t-item-field label="Item" [code]="item()?.code ?? ''" (taken)="item.set($event)" /></t-field>
        <t-field name="Customer">
          <t-choice label="Customer" [choices]="choices.all().customers" [value]="customerId()" (valueChange)="customerId.set($event)" />
        </t-field>
        <t-field [name]="'Quantity' + (item() ? ', ' + item()?.unit : '')" [refused]="problem()?.fields?.['quantity']">
          <t-number label="Quantity" [packs]="item()?.packs ?? []" [value]="quantity()" (valueChange)="quantity.set($event)" />
        </t-field>
        <t-field name="Day"><t-date label="Day" [value]="day()" (valueChange)="day.set($event)" /></t-field>
      </div>
      <t-refusal [problem]="problem()" />
      @if (answer(); as priced) {
        <section class="pane">
          <h2>{{ item()?.description }}</h2>
          <t-price-why [answer]="priced" />
          @if (priced.listPrice !== priced.price) {
            <p class="quiet">Its own list price is {{ priced.listPrice | grouped | inCurrency: priced.wantedIn }}.</p>
          }
        </section>
      } @else if (!item()) {
        <p class="quiet">Choose an item; the price and each step to it appear here.</p>
      }
    </div>
  `,
  styleUrl: '../catalogue/item-edit.page.less',
})
export class PriceTrialPage {
  private readonly client = inject(ApiClient);
  protected readonly choices = inject(Choices);
  private readonly today = inject(Store).selectSignal(sessionFeature.selectToday);
  protected readonly item = signal<ItemChoice | null>(null);
  protected readonly customerId = signal(0);
  protected readonly quantity = signal('1');
  protected readonly day = signal(this.today());
  protected readonly answer = signal<PriceAnswer | null>(null);
  protected readonly problem = signal<Problem | null>(null);

  constructor() {
    effect((cleanup) => {
      const [item, customerId, quantity, date] = [this.item(), this.customerId(), this.quantity(), this.day()];
      if (!item || quantity === '') return;
      const query = { itemId: item.id, quantity, ...(customerId > 0 ? { customerId } : {}), ...(date === '' ? {} : { date }) };
      const asked = untracked(() =>
        this.client.call(api.selling.explainPrice, { query }).subscribe({
          next: (answer) => {
            this.answer.set(answer);
            this.problem.set(null);
          },
          error: (error: unknown) => this.problem.set(problemOf(error)),
        }),
      );
      cleanup(() => asked.unsubscribe());
    });
  }
}
