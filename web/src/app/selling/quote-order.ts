/** An order made of a quote, or called off from a blanket order: all that is left, or what is typed of each line. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { Router } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type OrderView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { DateField, NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { leftOf } from './quote-words';

interface Draft {
  readonly requiredDate: string;
  readonly reference: string;
  /** By the line's id. */
  readonly quantities: Readonly<Record<string, string>>;
}

@Component({
  selector: 't-quote-order',
  imports: [Control, DateField, GroupedPipe, Labelled, NumberField, NzButtonModule, Refused, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="pane" (submit)="$event.preventDefault(); make()">
      <h2>{{ quote().kind === 'quote' ? 'An order of ' : 'Call off from ' }}{{ quote().number }}</h2>
      <div class="fields">
        <t-field name="Wanted on"><t-date label="Wanted on" [formField]="entry.fields.requiredDate" /></t-field>
        <t-field name="Their reference"><t-text [formField]="entry.fields.reference" /></t-field>
      </div>
      <t-sheet>
        <thead>
          <tr>
            <th>Item</th>
            <th class="figure">Left</th>
            <th class="figure">Ordered now</th>
          </tr>
        </thead>
        <tbody>
          @for (line of open(); track line.id) {
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
                  [value]="draft().quantities[line.id] ?? ''"
                  [refused]="entry.refused()['lines.' + $index + '.quantity']"
                  (valueChange)="set(line.id, $event)"
                />
              </td>
            </tr>
          }
        </tbody>
      </t-sheet>
      <t-refusal [problem]="entry.problem()" />
      <div class="acts">
        <button nz-button class="act first" [disabled]="entry.busy()">Make the order</button>
        <button nz-button type="button" class="act" (click)="dropped.emit()">Not now</button>
      </div>
    </form>
  `,
  styleUrl: './quote-form.less',
})
export class QuoteOrder {
  readonly quote = input.required<OrderView>();
  readonly dropped = output();
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  protected readonly draft = signal<Draft>({ requiredDate: '', reference: '', quantities: {} });
  protected readonly open = computed(() => this.quote().lines.filter((line) => leftOf(line) > 0));
  protected readonly entry = entryOf({
    part: () => 'quoteOrder',
    draft: this.draft,
    route: () => api.selling.orderFromQuote,
    body: () => this.body(),
  });

  constructor() {
    effect(() => {
      const { requiredDate, reference, kind } = this.quote();
      untracked(() =>
        this.entry.begin({
          requiredDate,
          reference,
          quantities: Object.fromEntries(this.open().map((line) => [line.id, kind === 'quote' ? String(leftOf(line)) : ''])),
        }),
      );
    });
  }

  protected left(line: OrderView['lines'][number]): string {
    return String(leftOf(line));
  }

  protected set(id: number, quantity: string): void {
    this.draft.update((draft) => ({ ...draft, quantities: { ...draft.quantities, [id]: quantity } }));
  }

  private body(): NonNullable<BodyIn<typeof api.selling.orderFromQuote>> {
    const { requiredDate, reference, quantities } = this.draft();
    return {
      version: this.quote().version,
      reference,
      ...(requiredDate === '' ? {} : { requiredDate }),
      lines: this.open().map(({ id }) => ({ lineId: id, quantity: quantities[id]?.trim() || '0' })),
    };
  }

  protected make(): void {
    this.entry.send(this.client.call(api.selling.orderFromQuote, { params: { id: this.quote().id }, body: this.body() }), (order) => {
      this.entry.settle();
      void this.router.navigateByUrl(`/selling/orders/${order.id}`);
    });
  }
}
