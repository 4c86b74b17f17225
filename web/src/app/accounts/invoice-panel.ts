/** A customer invoice: its lines, what is paid, and what is open. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, paymentMethods, type InvoiceView } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { DocumentHead } from '../ui/document-head';
import { Confirm } from '../ui/confirm';
import { NumberField } from '../ui/fields';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { withRecord } from '../ui/record.store';
import { Refused } from '../ui/refusal';
import { InCurrencyPipe } from '../ui/money';

const InvoiceStore = signalStore(withRecord<InvoiceView>(api.accounts.getInvoice, 'invoice'));

@Component({
  selector: 't-invoice-panel',
  imports: [InCurrencyPipe, DocumentHead, Refused, Confirm, NumberField, RouterLink, GroupedPipe, LongDayPipe],
  providers: [InvoiceStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './invoice-panel.html',
})
export class InvoicePanel {
  readonly id = input.required<number>();
  protected readonly store = inject(InvoiceStore);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  readonly version = computed(() => this.store.record()?.version ?? 0);
  protected readonly amount = linkedSignal(() => this.store.record()?.open ?? '');
  protected readonly method = signal<(typeof paymentMethods)[number]>('transfer');
  protected readonly methods = paymentMethods;
  protected readonly asking = signal<'reverse' | number | null>(null);

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => this.store.load(id));
    });
  }

  protected choose(method: string): void {
    const chosen = paymentMethods.find((each) => each === method);
    if (chosen) this.method.set(chosen);
  }

  protected pay(): void {
    this.store.perform(api.accounts.payInvoice, { params: { id: this.id() }, body: { amount: this.amount(), method: this.method() } });
  }

  protected agree(): void {
    const asked = this.asking();
    this.asking.set(null);
    if (asked === 'reverse') this.store.perform(api.accounts.reverseInvoice, { params: { id: this.id() }, body: { version: this.version() } });
    else if (asked !== null) this.store.perform(api.accounts.reversePayment, { params: { id: asked } });
  }
}
