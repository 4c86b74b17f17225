/** A quote that is lost, or a blanket order that ends: why. */
import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, quoteReasons, type OrderView, type QuoteReason } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { LOST_WORDS } from './quote-words';

@Component({
  selector: 't-quote-lost',
  imports: [Control, Labelled, NzButtonModule, Refused, SelectField, SelectOption, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="pane" (submit)="$event.preventDefault(); lose()">
      <h2>{{ words() }}</h2>
      <p class="quiet">What has become orders stays; the rest can’t be ordered any more.</p>
      <div class="fields">
        <t-field name="Why">
          <t-select label="Why" [formField]="entry.fields.reason">
            @for (each of reasons; track each) {
              <t-option [value]="each" [label]="names[each]" />
            }
          </t-select>
        </t-field>
        <t-field class="wide" name="In their words"><t-text [formField]="entry.fields.note" /></t-field>
      </div>
      <t-refusal [problem]="entry.problem()" />
      <div class="acts">
        <button nz-button class="act first" [disabled]="entry.busy()">{{ quote().kind === 'quote' ? 'It is lost' : 'End it' }}</button>
        <button nz-button type="button" class="act" (click)="dropped.emit()">Not now</button>
      </div>
    </form>
  `,
  styleUrl: './quote-form.less',
})
export class QuoteLost {
  readonly quote = input.required<OrderView>();
  readonly done = output<OrderView>();
  readonly dropped = output();
  private readonly client = inject(ApiClient);
  protected readonly reasons = quoteReasons;
  protected readonly names = LOST_WORDS;
  private readonly draft = signal<{ reason: QuoteReason; note: string }>({ reason: 'price', note: '' });
  protected readonly words = computed(() => `${this.quote().kind === 'quote' ? 'Lost: ' : 'End '}${this.quote().number}`);
  protected readonly entry = entryOf({
    part: () => 'quoteLost',
    draft: this.draft,
    route: () => api.selling.loseQuote,
    body: (draft) => ({ ...draft, version: this.quote().version }),
  });

  protected lose(): void {
    const { id, version } = this.quote();
    this.entry.send(this.client.call(api.selling.loseQuote, { params: { id }, body: { ...this.draft(), version } }), (quote) => {
      this.entry.settle();
      this.done.emit(quote);
    });
  }
}
