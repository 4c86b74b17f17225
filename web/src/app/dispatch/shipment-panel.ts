/** A shipment: pick, ship, invoice, take back. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, type AnyRoute, type PieceInput, type PieceView, type ShipmentView } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { pointerOf } from '../shell/pointing';
import type { Act } from '../ui/acts';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { draftOf } from '../ui/draft-of-record';
import { NumberField } from '../ui/fields';
import { GroupedPipe, grouped, longDay } from '../ui/format';
import { LineQuantities, type ByLine } from '../ui/line-quantities';
import { BelowLine, LineCell, Lines, type LineColumn } from '../ui/lines';
import { PiecesField } from '../ui/pieces-field';
import { withRecord } from '../ui/record.store';
import { TextField } from '../ui/text-field';

const ShipmentStore = signalStore(withRecord<ShipmentView>(api.dispatch.getShipment, 'shipment'));

type ShipmentLine = ShipmentView['lines'][number];

/** What was picked, as it would be typed. */
function namedBefore(picked: readonly PieceView[]): PieceInput[] {
  if (picked.some((piece) => piece.serial !== '')) return [{ serials: picked.map((piece) => piece.serial).join(' ') }];
  return picked.map((piece) => ({ lot: piece.lot, quantity: piece.quantity }));
}

@Component({
  selector: 't-shipment-panel',
  imports: [TextField, BelowLine, DocumentFrame, GroupedPipe, LineCell, Lines, NumberField, PiecesField],
  providers: [ShipmentStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './shipment-panel.html',
})
export class ShipmentPanel {
  readonly id = input.required({ transform: numberAttribute });
  readonly wide = input(false);
  protected readonly store = inject(ShipmentStore);
  private readonly router = inject(Router);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly point = pointerOf(
    this.store.record,
    (shipment) => shipment.warehouseId,
    (shipment) => shipment.lines[0]?.itemId,
  );
  /** What goes out by order line, with the lots or serial numbers named for it; at first what was kept before. */
  protected readonly leaving = new LineQuantities(
    draftOf(this.store.record, (shipment): ByLine<string> =>
      Object.fromEntries((shipment?.lines ?? []).map((line) => [line.orderLineId, line.quantity])),
    ),
    draftOf(this.store.record, (shipment): ByLine<readonly PieceInput[]> =>
      Object.fromEntries((shipment?.lines ?? []).map((line) => [line.orderLineId, namedBefore(line.picked)])),
    ),
  );
  protected readonly carrier = draftOf(this.store.record, (shipment) => shipment?.carrier ?? '');
  protected readonly here = computed(() => ['draft', 'picking'].includes(this.store.record()?.state ?? '') && this.rights().has('dispatch.ship'));
  private readonly changed = computed(
    () =>
      this.carrier() !== this.store.record()?.carrier ||
      (this.store.record()?.lines ?? []).some(
        (line) =>
          this.leaving.of(line.orderLineId) !== line.quantity ||
          JSON.stringify(this.leaving.piecesOf(line.orderLineId)) !== JSON.stringify(namedBefore(line.picked)),
      ),
  );
  protected readonly facts = computed((): readonly Fact[] => {
    const shipment = this.store.record();
    if (!shipment) return [];
    return [
      { title: 'For', value: shipment.customer },
      { title: 'To', value: shipment.address },
      { title: 'Order', value: shipment.order, kind: 'code', page: ['/selling/orders', shipment.orderId] },
      { title: 'From', value: shipment.warehouse },
      { title: shipment.state === 'shipped' ? 'Shipped' : 'Made', value: longDay(shipment.date) },
    ];
  });
  protected readonly acts = computed((): readonly Act[] => {
    const shipment = this.store.record();
    if (!shipment) return [];
    const [here, changed, picking] = [this.here(), this.changed(), shipment.state === 'picking'];
    const gone = shipment.state === 'shipped' && !shipment.invoiced;
    return [
      { words: 'Keep the changes', shown: here && changed, first: true, act: () => this.keep() },
      {
        words: 'Print pick list and start picking',
        shown: here && !picking,
        first: !changed,
        disabled: changed,
        act: () => this.pick(),
      },
      { words: 'Print pick list again', shown: here && picking, act: () => this.pick() },
      {
        words: `Ship ${shipment.number}: stock leaves`,
        shown: here,
        first: picking && !changed,
        disabled: changed,
        act: () => this.act(api.dispatch.ship),
      },
      { words: 'Drop it', shown: here, act: () => this.act(api.dispatch.cancelShipment) },
      { words: 'Pick list (PDF)', shown: !here, paper: `/api/papers/shipment/${shipment.id}` },
      { words: 'Invoice it', shown: gone && this.rights().has('accounts.invoice'), first: true, act: () => this.invoice() },
      {
        words: 'Take back',
        shown: gone && this.rights().has('dispatch.ship'),
        asks: {
          heading: `Take ${shipment.number} back`,
          consequences: 'The goods return to their bins at the cost they left with and are reserved for the order again.',
          action: 'Take it back',
        },
        act: () => this.act(api.dispatch.reverseShipment),
      },
    ];
  });
  protected readonly columns = computed((): readonly LineColumn<ShipmentLine>[] => [
    { title: 'Bin', code: true, value: (line) => line.bin || '—' },
    { title: 'Item', item: (line) => line },
    { title: 'Ordered', figure: true, value: (line) => grouped(line.ordered), unit: (line) => line.unit },
    { title: 'Still to ship', figure: true, value: (line) => grouped(line.outstanding) },
    { title: 'On this shipment', figure: true, cell: 'leaving', width: 130 },
  ]);
  protected readonly isTracked = (line: ShipmentLine): boolean => line.tracking !== 'none';

  constructor() {
    showRecord(this.id, this.store);
  }

  private act(route: AnyRoute): void {
    this.store.perform(route, { params: { id: this.id() }, body: { version: this.store.record()?.version ?? 0 } });
  }

  private keep(): void {
    const shipment = this.store.record();
    if (!shipment) return;
    const lines = shipment.lines.map(({ orderLineId }) => ({ orderLineId, ...this.leaving.taken(orderLineId) }));
    const body = { version: shipment.version, carrier: this.carrier(), lines };
    this.store.perform(api.dispatch.changeShipment, { params: { id: this.id() }, body });
  }

  private pick(): void {
    window.open(`/api/papers/shipment/${this.id()}`, '_blank');
    if (this.store.record()?.state === 'draft') this.act(api.dispatch.startPicking);
  }

  private invoice(): void {
    const order = this.store.record()?.orderId ?? 0;
    this.store.perform(
      api.selling.invoiceOrder,
      { params: { id: order }, body: { shipmentId: this.id() } },
      (invoice) => void this.router.navigateByUrl(`/accounts/invoices/${invoice.id}`),
      false,
    );
  }
}
