/** An order made of a quote, or called off from a blanket order: all that is left, or what is typed of each line. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { Router } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type OrderView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { DateField } from '../ui/fields';
import { Control, entryOf } from '../ui/forms';
import { HowMany } from '../ui/how-many';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
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
  imports: [Control, DateField, HowMany, Labelled, NzButtonModule, Refused, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="pane" (submit)="$event.preventDefault(); make()">
      <h2>{{ quote().kind === 'quote' ? 'An order of ' : 'Call off from ' }}{{ quote().number }}</h2>
      <div class="fields">
        <t-field name="Wanted on"><t-date label="Wanted on" [formField]="entry.fields.requiredDate" /></t-field>
        <t-field name="Their reference"><t-text [formField]="entry.fields.reference" /></t-field>
      </div>
      <t-how-many
        askedWords="Ordered now"
        [lines]="lines()"
        [refused]="refused()"
        [quantities]="draft().quantities"
        (quantitiesChange)="set($event)"
      />
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
  protected readonly lines = computed(() => this.open().map((line) => ({ ...line, key: line.id, left: String(leftOf(line)) })));
  protected readonly refused = computed(() =>
    Object.fromEntries(this.open().map(({ id }, at) => [id, this.entry.refused()[`lines.${at}.quantity`]])),
  );
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

  protected set(quantities: Draft['quantities']): void {
    this.draft.update((draft) => ({ ...draft, quantities }));
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
