/** A customer order: its lines with their coverage, and what can be done with it now. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { api, type OrderLine } from '@terrace/contract';
import { focusActions } from '../shell/focus.state';
import { sessionFeature } from '../client/session.state';
import { DocumentHead } from '../ui/document-head';
import { Confirm } from '../ui/confirm';
import { GroupedPipe, LongDayPipe, ShortDayPipe, readyWords } from '../ui/format';
import { Refused } from '../ui/refusal';
import { OrderStore, isOpen } from './order.store';
import { InCurrencyPipe } from '../ui/money';

@Component({
  selector: 't-order-panel',
  imports: [InCurrencyPipe, DocumentHead, Refused, Confirm, RouterLink, GroupedPipe, LongDayPipe, ShortDayPipe],
  providers: [OrderStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './order-panel.html',
})
export class OrderPanel {
  readonly id = input.required<number>();
  /** On a page of its own, with prices; beside a list it keeps to what fits. */
  readonly wide = input(false);
  protected readonly store = inject(OrderStore);
  private readonly ngrx = inject(Store);
  private readonly router = inject(Router);
  protected readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  protected readonly asking = signal(false);
  protected readonly ready = readyWords;
  readonly version = computed(() => this.store.record()?.version ?? 0);
  protected readonly toInvoice = computed(() => this.store.record()?.lines.some((line) => Number(line.shipped) > Number(line.invoiced)) ?? false);
  protected readonly open = computed(() => isOpen(this.store.record()?.state));
  protected readonly cancellable = computed(() => ['draft', 'confirmed', 'partShipped'].includes(this.store.record()?.state ?? ''));
  protected readonly unreserved = computed(() => this.open() && this.store.record()?.ready !== 'all');

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => this.store.load(id));
    });
    let pointedFor = 0;
    effect(() => {
      const record = this.store.record();
      // Whoever has pointed at another line since looks at that.
      if (!record || record.id === pointedFor) return;
      pointedFor = record.id;
      const first = record.lines.find((line) => line.covered !== 'all reserved' && line.covered !== 'done') ?? record.lines[0];
      if (first) untracked(() => this.point(first));
    });
  }

  protected point(line: OrderLine): void {
    this.ngrx.dispatch(focusActions.point({ itemId: line.itemId, warehouseId: this.store.record()?.warehouseId ?? null }));
  }

  protected confirm(allOrNothing: boolean): void {
    this.store.perform(api.selling.confirmOrder, { params: { id: this.id() }, body: { version: this.version(), allOrNothing } });
  }

  protected reserve(): void {
    this.store.perform(api.selling.reserveOrder, { params: { id: this.id() } });
  }

  protected cancel(reason: string): void {
    this.asking.set(false);
    this.store.perform(api.selling.cancelOrder, { params: { id: this.id() }, body: { version: this.version(), reason } });
  }

  protected ship(): void {
    this.store.perform(
      api.dispatch.createShipment,
      { body: { orderId: this.id() } },
      (shipment) => void this.router.navigateByUrl(`/dispatch/shipments/${shipment.id}`),
      false,
    );
  }

  protected invoice(): void {
    this.store.perform(
      api.selling.invoiceOrder,
      { params: { id: this.id() }, body: {} },
      (invoice) => void this.router.navigateByUrl(`/accounts/invoices/${invoice.id}`),
      false,
    );
  }
}
