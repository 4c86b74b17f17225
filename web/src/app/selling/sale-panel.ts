/** A sale over the counter, with its receipt. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute } from '@angular/core';
import { signalStore } from '@ngrx/signals';
import { api, type SaleView } from '@terrace/contract';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { grouped, moment } from '../ui/format';
import { withRecord } from '../ui/record.store';
import { ReceiptStrip } from './receipt-strip';

const SaleStore = signalStore(withRecord<SaleView>(api.counter.getSale, 'counterSale'));

@Component({
  selector: 't-sale-panel',
  imports: [DocumentFrame, ReceiptStrip],
  providers: [SaleStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-document kind="counterSale" [store]="store" state="" [facts]="facts()" [acts]="[]" [wide]="wide()">
      @if (store.record(); as sale) {
        <t-receipt-strip [sale]="sale" />
      }
    </t-document>
  `,
})
export class SalePanel {
  readonly id = input.required({ transform: numberAttribute });
  readonly wide = input(false);
  protected readonly store = inject(SaleStore);
  protected readonly facts = computed((): readonly Fact[] => {
    const sale = this.store.record();
    if (!sale) return [];
    return [
      { title: 'Customer', value: sale.customer, page: ['/catalogue/customers', sale.customerId] },
      { title: 'At', value: moment(sale.at) },
      { title: 'Total', value: grouped(sale.total), kind: 'money' },
      { title: 'Open', value: sale.open === '0.00' ? '' : grouped(sale.open), kind: 'money' },
      { title: 'Takes back', value: sale.returnOf, kind: 'code', page: ['/selling/counter/sales', sale.returnOfId ?? 0] },
      { title: 'Order', value: sale.order, kind: 'code', page: ['/selling/orders', sale.orderId] },
      { title: 'Invoice', value: sale.invoice, kind: 'code', page: ['/accounts/invoices', sale.invoiceId] },
      { title: 'Served by', value: sale.who },
    ];
  });

  constructor() {
    showRecord(this.id, this.store);
  }
}
