/** A shipment: pick, ship, invoice, take back. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, type AnyRoute, type PieceInput, type PieceView, type ShipmentView } from '@terrace/contract';
import { focusActions } from '../shell/focus.state';
import { sessionFeature } from '../client/session.state';
import { DocumentHead } from '../ui/document-head';
import { Confirm } from '../ui/confirm';
import { NumberField } from '../ui/fields';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { PiecesField } from '../ui/pieces-field';
import { withRecord } from '../ui/record.store';
import { Refused } from '../ui/refusal';
import { draftOf } from '../ui/draft-of-record';

const ShipmentStore = signalStore(withRecord<ShipmentView>(api.dispatch.getShipment, 'shipment'));

/** What was picked, as it would be typed. */
function namedBefore(picked: readonly PieceView[]): PieceInput[] {
  if (picked.some((piece) => piece.serial !== '')) return [{ serials: picked.map((piece) => piece.serial).join(' ') }];
  return picked.map((piece) => ({ lot: piece.lot, quantity: piece.quantity }));
}

@Component({
  selector: 't-shipment-panel',
  imports: [DocumentHead, Refused, Confirm, NumberField, PiecesField, RouterLink, GroupedPipe, LongDayPipe],
  providers: [ShipmentStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './shipment-panel.html',
})
export class ShipmentPanel {
  readonly id = input.required<number>();
  protected readonly store = inject(ShipmentStore);
  private readonly ngrx = inject(Store);
  private readonly router = inject(Router);
  protected readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  readonly version = computed(() => this.store.record()?.version ?? 0);
  protected readonly quantities = draftOf(this.store.record, (shipment): Readonly<Record<number, string>> =>
    Object.fromEntries((shipment?.lines ?? []).map((line) => [line.orderLineId, line.quantity])),
  );
  /** The lots or serial numbers that are named for each line; at first those that were named before. */
  protected readonly pieces = draftOf(this.store.record, (shipment): Readonly<Record<number, readonly PieceInput[]>> =>
    Object.fromEntries((shipment?.lines ?? []).map((line) => [line.orderLineId, namedBefore(line.picked)])),
  );
  protected readonly carrier = draftOf(this.store.record, (shipment) => shipment?.carrier ?? '');
  protected readonly here = computed(() => ['draft', 'picking'].includes(this.store.record()?.state ?? '') && this.rights().has('dispatch.ship'));
  protected readonly changed = computed(
    () =>
      this.carrier() !== this.store.record()?.carrier ||
      (this.store.record()?.lines ?? []).some(
        (line) =>
          this.quantities()[line.orderLineId] !== line.quantity ||
          JSON.stringify(this.pieces()[line.orderLineId] ?? []) !== JSON.stringify(namedBefore(line.picked)),
      ),
  );
  protected readonly asking = signal(false);
  protected readonly routes = api.dispatch;

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => this.store.load(id));
    });
    effect(() => {
      const [first] = this.store.record()?.lines ?? [];
      if (first) untracked(() => this.point(first.itemId));
    });
  }

  protected point(itemId: number): void {
    this.ngrx.dispatch(focusActions.point({ itemId, warehouseId: this.store.record()?.warehouseId ?? null }));
  }

  protected type(orderLineId: number, quantity: string): void {
    this.quantities.update((quantities) => ({ ...quantities, [orderLineId]: quantity }));
  }

  protected name(orderLineId: number, pieces: readonly PieceInput[]): void {
    this.pieces.update((all) => ({ ...all, [orderLineId]: pieces }));
  }

  protected act(route: AnyRoute): void {
    this.asking.set(false);
    this.store.perform(route, { params: { id: this.id() }, body: { version: this.version() } });
  }

  protected keep(): void {
    const lines = (this.store.record()?.lines ?? []).map((line) => ({
      orderLineId: line.orderLineId,
      quantity: this.quantities()[line.orderLineId] || '0',
      ...((this.pieces()[line.orderLineId]?.length ?? 0) > 0 ? { pieces: [...(this.pieces()[line.orderLineId] ?? [])] } : {}),
    }));
    this.store.perform(api.dispatch.changeShipment, { params: { id: this.id() }, body: { version: this.version(), carrier: this.carrier(), lines } });
  }

  protected pick(): void {
    window.open(`/api/papers/shipment/${this.id()}`, '_blank');
    if (this.store.record()?.state === 'draft') this.act(api.dispatch.startPicking);
  }

  protected invoice(): void {
    const order = this.store.record()?.orderId ?? 0;
    this.store.perform(
      api.selling.invoiceOrder,
      { params: { id: order }, body: { shipmentId: this.id() } },
      (invoice) => void this.router.navigateByUrl(`/accounts/invoices/${invoice.id}`),
      false,
    );
  }
}
