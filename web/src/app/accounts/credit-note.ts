/** Giving back what an invoice charged: pieces at what they cost, or money alone. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { Router } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type InvoiceView } from '@terrace/contract';
import { QUANTITY_SCALE, parseQuantity, subtractQuantity, writeQuantity } from '@terrace/core';
import { ApiClient } from '../client/api-client';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';

type Line = InvoiceView['lines'][number];
interface Draft {
  readonly reason: string;
  /** By the line's id. */
  readonly lines: Readonly<Record<string, { readonly quantity: string; readonly amount: string }>>;
}

@Component({
  selector: 't-credit-note',
  imports: [Control, GroupedPipe, Labelled, NumberField, NzButtonModule, Refused, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="pane" (submit)="$event.preventDefault(); make()">
      <h2>Give back of {{ invoice().number }}</h2>
      <p class="quiet">Pieces are worth what was charged for them. Goods that come back are taken in by a return, not here.</p>
      <t-field class="wide" name="Why"><t-text [formField]="entry.fields.reason" /></t-field>
      <t-sheet>
        <thead>
          <tr>
            <th>Item</th>
            <th class="figure">Not given back</th>
            <th class="figure">Pieces</th>
            <th class="figure">Money, without tax</th>
          </tr>
        </thead>
        <tbody>
          @for (line of invoice().lines; track line.id) {
            <tr>
              <td>
                <span class="code">{{ line.code }}</span>
                <div class="quiet">{{ line.description }}</div>
              </td>
              <td class="figure">
                {{ left(line) | grouped }} <span class="quiet">{{ line.unit }}</span>
              </td>
              <td class="number">
                <t-number
                  [label]="'How many ' + line.code"
                  [value]="draft().lines[line.id]?.quantity ?? ''"
                  [refused]="refused()[line.id]?.quantity"
                  (valueChange)="set(line.id, { quantity: $event })"
                />
              </td>
              <td class="number">
                <t-number
                  [label]="'How much for ' + line.code"
                  [value]="draft().lines[line.id]?.amount ?? ''"
                  [refused]="refused()[line.id]?.amount"
                  (valueChange)="set(line.id, { amount: $event })"
                />
              </td>
            </tr>
          }
        </tbody>
      </t-sheet>
      <t-refusal [problem]="entry.problem()" />
      <div class="acts">
        <button nz-button class="act first" [disabled]="entry.busy()">Make the credit note</button>
        <button nz-button type="button" class="act" (click)="dropped.emit()">Not now</button>
      </div>
    </form>
  `,
  styles: '.number { width: 130px; }',
})
export class CreditNote {
  readonly invoice = input.required<InvoiceView>();
  readonly dropped = output();
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  protected readonly draft = signal<Draft>({ reason: '', lines: {} });
  protected readonly entry = entryOf({
    part: () => 'creditNote',
    draft: this.draft,
    route: () => api.accounts.creditInvoice,
    body: () => this.body(),
  });
  protected readonly refused = computed(() =>
    Object.fromEntries(
      this.sent().map(({ lineId }, at) => [
        lineId,
        { quantity: this.entry.refused()[`lines.${at}.quantity`], amount: this.entry.refused()[`lines.${at}.amount`] },
      ]),
    ),
  );

  constructor() {
    effect(() => {
      this.invoice();
      untracked(() => this.entry.begin({ reason: '', lines: {} }));
    });
  }

  protected left({ quantity, credited }: Line): string {
    return writeQuantity(subtractQuantity(parseQuantity(quantity, QUANTITY_SCALE), parseQuantity(credited, QUANTITY_SCALE)));
  }

  protected set(id: number, change: Partial<Draft['lines'][string]>): void {
    this.draft.update((draft) => ({
      ...draft,
      lines: { ...draft.lines, [id]: { quantity: '', amount: '', ...draft.lines[id], ...change } },
    }));
  }

  private sent(): { lineId: number; quantity: string; amount: string }[] {
    return this.invoice().lines.flatMap(({ id }) => {
      const { quantity = '', amount = '' } = this.draft().lines[id] ?? {};
      return quantity.trim() === '' && amount.trim() === '' ? [] : [{ lineId: id, quantity: quantity.trim() || '0', amount: amount.trim() || '0' }];
    });
  }

  private body(): BodyIn<typeof api.accounts.creditInvoice> {
    return { version: this.invoice().version, reason: this.draft().reason, lines: this.sent() };
  }

  protected make(): void {
    this.entry.send(this.client.call(api.accounts.creditInvoice, { params: { id: this.invoice().id }, body: this.body() }), (note) => {
      this.entry.settle();
      void this.router.navigateByUrl(`/accounts/invoices/${note.id}`);
    });
  }
}
