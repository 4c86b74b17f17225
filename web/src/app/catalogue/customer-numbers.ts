/** What a customer calls items: added, changed and forgotten one by one. */
import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked, viewChild } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf, type ItemChoice } from '@terrace/contract';
import { ApiClient, problemOf } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { Control, entryOf } from '../ui/forms';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';

type Numbers = AnswerOf<typeof api.catalogue.customerItems>;

@Component({
  selector: 't-customer-numbers',
  imports: [Control, ItemField, Labelled, NzButtonModule, Refused, RouterLink, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Their own item numbers</h2>
    @if (rows().length > 0) {
      <t-sheet>
        <thead>
          <tr>
            <th>Theirs</th>
            <th>They call it</th>
            <th>Ours</th>
            <th>Description</th>
            <th><span class="sr">Forget</span></th>
          </tr>
        </thead>
        <tbody>
          @for (each of rows(); track each.itemId) {
            <tr>
              <td class="code">{{ each.theirCode }}</td>
              <td>{{ each.theirDescription }}</td>
              <td>
                <a class="code" [routerLink]="['/catalogue/items', each.itemId]">{{ each.code }}</a>
              </td>
              <td>{{ each.description }}</td>
              <td>
                @if (may()) {
                  <button
                    nz-button
                    type="button"
                    class="act plain small"
                    [attr.aria-label]="'Forget ' + each.theirCode"
                    (click)="forget(each.itemId)"
                  >
                    Forget
                  </button>
                }
              </td>
            </tr>
          }
        </tbody>
      </t-sheet>
    }
    @if (may()) {
      <form class="fields" (submit)="$event.preventDefault(); add()">
        <t-field name="Our item" [refused]="entry.refused()['itemId']">
          <t-item-field [code]="item()?.code ?? ''" label="Our item" (taken)="take($event)" />
        </t-field>
        <t-field name="Their number"><t-text kind="code" [formField]="entry.fields.theirCode" /></t-field>
        <t-field name="They call it"><t-text [formField]="entry.fields.theirDescription" /></t-field>
        <button nz-button class="act small" [disabled]="entry.busy()">Add the number</button>
      </form>
    }
    <t-refusal [problem]="entry.problem()" />
  `,
})
export class CustomerNumbers {
  readonly customerId = input.required<number>();
  readonly may = input(false);
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  private readonly field = viewChild(ItemField);
  protected readonly rows = signal<Numbers>([]);
  protected readonly item = signal<ItemChoice | null>(null);
  private readonly draft = signal({ itemId: 0, theirCode: '', theirDescription: '' });
  protected readonly entry = entryOf({
    part: () => 'numbers',
    draft: this.draft,
    route: () => api.catalogue.keepCustomerItem,
    body: (draft) => draft,
  });

  constructor() {
    effect(() => {
      const id = this.customerId();
      untracked(() =>
        this.ask(this.client.call(api.catalogue.customerItems, { params: { id } }), {
          next: (rows) => this.rows.set(rows),
          error: (error: unknown) => this.entry.refuse(problemOf(error)),
        }),
      );
    });
  }

  protected take(item: ItemChoice): void {
    this.item.set(item);
    this.draft.update((draft) => ({ ...draft, itemId: item.id }));
  }

  protected add(): void {
    this.entry.send(this.client.call(api.catalogue.keepCustomerItem, { params: { id: this.customerId() }, body: this.draft() }), (rows) => {
      this.rows.set(rows);
      this.item.set(null);
      this.entry.begin({ itemId: 0, theirCode: '', theirDescription: '' });
      this.field()?.focus();
    });
  }

  protected forget(item: number): void {
    this.client.call(api.catalogue.dropCustomerItem, { params: { id: this.customerId(), item } }).subscribe({
      next: (rows) => this.rows.set(rows),
      error: (error: unknown) => this.entry.refuse(problemOf(error)),
    });
  }
}
