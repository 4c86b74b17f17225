/** Something comes back over the counter, against its receipt. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type SaleView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { CheckField } from '../ui/check-field';
import { GroupedPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { HowMany } from '../ui/how-many';
import { Labelled } from '../ui/labelled';
import { InCurrencyPipe } from '../ui/money';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import type { ReceiptFound } from './counter.store';

type Piece = ReceiptFound['pieces'][number];
const METHODS = [
  { value: 'cash', words: 'in cash' },
  { value: 'card', words: 'to their card' },
  { value: 'transfer', words: 'by transfer' },
  { value: 'credit', words: 'stays to their credit' },
] as const;

interface Draft {
  readonly reason: string;
  readonly good: boolean;
  readonly method: (typeof METHODS)[number]['value'];
  readonly quantities: Readonly<Record<string, string>>;
}

const keyOf = ({ shipmentLineId, lot, serial }: Piece): string => `${shipmentLineId}/${lot}/${serial}`;

@Component({
  selector: 't-counter-return',
  imports: [CheckField, Control, GroupedPipe, HowMany, InCurrencyPipe, Labelled, NzButtonModule, Refused, SelectField, SelectOption, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="pane" (submit)="$event.preventDefault(); send()">
      <h2>Something of {{ found().sale.number }} comes back</h2>
      <p class="quiet">{{ found().sale.customer }}, {{ found().sale.total | grouped | inCurrency }}</p>
      <t-how-many
        leftWords="With them"
        askedWords="Comes back"
        [lines]="lines()"
        [refused]="refused()"
        [quantities]="draft().quantities"
        (quantitiesChange)="set($event)"
      />
      <div class="fields">
        <t-field name="Why"><t-text [formField]="entry.fields.reason" /></t-field>
        <t-field name="Money">
          <t-select [formField]="entry.fields.method">
            @for (each of methods; track each.value) {
              <t-option [value]="each.value" label="{{ each.words }}" />
            }
          </t-select>
        </t-field>
      </div>
      <t-check [formField]="entry.fields.good">It is good to be sold again</t-check>
      <t-refusal [problem]="entry.problem()" />
      <div class="acts">
        <button nz-button class="act first" [disabled]="entry.busy()">Take it back</button>
        <button nz-button type="button" class="act" (click)="dropped.emit()">Not now <kbd>Esc</kbd></button>
      </div>
    </form>
  `,
  styleUrl: './quote-form.less',
})
export class CounterReturn {
  readonly found = input.required<ReceiptFound>();
  readonly took = output<SaleView>();
  readonly dropped = output();
  private readonly client = inject(ApiClient);
  protected readonly methods = METHODS;
  protected readonly draft = signal<Draft>({ reason: '', good: true, method: 'cash', quantities: {} });
  protected readonly entry = entryOf({
    part: () => 'counterReturn',
    draft: this.draft,
    route: () => api.counter.returnSale,
    body: () => this.body(),
  });
  protected readonly lines = computed(() =>
    this.found().pieces.map((piece) => ({ ...piece, key: keyOf(piece), piece: [piece.lot, piece.serial].filter(Boolean).join(' ') })),
  );
  private readonly chosen = computed(() => this.found().pieces.filter((piece) => (this.draft().quantities[keyOf(piece)] ?? '').trim() !== ''));
  protected readonly refused = computed(() =>
    Object.fromEntries(this.chosen().map((piece, at) => [keyOf(piece), this.entry.refused()[`lines.${at}.quantity`]])),
  );

  constructor() {
    effect(() => {
      const { pieces } = this.found();
      // Where one thing was sold, that one comes back.
      const [only, other] = pieces.filter(({ left }) => left !== '0');
      untracked(() =>
        this.entry.begin({ reason: '', good: true, method: 'cash', quantities: only && !other && only.left === '1' ? { [keyOf(only)]: '1' } : {} }),
      );
    });
  }

  protected set(quantities: Draft['quantities']): void {
    this.draft.update((draft) => ({ ...draft, quantities }));
  }

  private body(): BodyIn<typeof api.counter.returnSale> {
    const { reason, good, method, quantities } = this.draft();
    return {
      reason,
      good,
      method,
      lines: this.chosen().map((piece) => ({
        shipmentLineId: piece.shipmentLineId,
        lot: piece.lot,
        serial: piece.serial,
        quantity: (quantities[keyOf(piece)] ?? '').trim(),
      })),
    };
  }

  protected send(): void {
    this.entry.send(this.client.call(api.counter.returnSale, { params: { id: this.found().sale.id }, body: this.body() }), (sale) =>
      this.took.emit(sale),
    );
  }
}
