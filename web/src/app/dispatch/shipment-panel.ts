/** A shipment: pick, ship, invoice, take back. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute, signal } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, type AnyRoute, type BodyIn, type PieceInput, type PieceView, type ShipmentView } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { pointerOf } from '../shell/pointing';
import type { Act } from '../ui/acts';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { NumberField } from '../ui/fields';
import { Control, entryOf, overRecord } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { GroupedPipe, grouped, longDay } from '../ui/format';
import { LineQuantities, NO_LINES, lineDraft, linePlace, linesOf, type LineDraft } from '../ui/line-quantities';
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

interface ShipmentDraft extends LineDraft {
  readonly carrier: string;
}

@Component({
  selector: 't-shipment-panel',
  imports: [Control, Labelled, TextField, BelowLine, DocumentFrame, GroupedPipe, LineCell, Lines, NumberField, PiecesField],
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
  private readonly draft = signal<ShipmentDraft>({ ...NO_LINES, carrier: '' });
  /** What goes out by order line, with the lots or serial numbers named for it; at first what was kept before. */
  protected readonly leaving = new LineQuantities(linesOf(this.draft));
  protected readonly entry = entryOf({
    part: () => `shipment ${this.store.record()?.id ?? 0}`,
    draft: this.draft,
    problem: this.store.problem,
    route: () => (this.here() ? api.dispatch.changeShipment : null),
    body: () => this.body(),
    place: (place) =>
      linePlace(
        place,
        (this.store.record()?.lines ?? []).map((line) => line.orderLineId),
      ),
  });
  protected readonly here = computed(() => ['draft', 'picking'].includes(this.store.record()?.state ?? '') && this.rights().has('dispatch.ship'));
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
    const [here, changed, picking] = [this.here(), this.entry.typed(), shipment.state === 'picking'];
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
      { words: 'Packing slip (PDF)', shown: picking || shipment.state === 'shipped', paper: `/api/papers/packingSlip/${shipment.id}` },
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
    overRecord(this.entry, this.store.record, ({ lines, carrier }) => ({
      ...lineDraft(
        lines,
        (line) => line.orderLineId,
        (line) => line.quantity,
        (line) => namedBefore(line.picked),
      ),
      carrier,
    }));
  }

  private act(route: AnyRoute): void {
    this.store.perform(route, { params: { id: this.id() }, body: { version: this.store.record()?.version ?? 0 } });
  }

  private body(): BodyIn<typeof api.dispatch.changeShipment> {
    const shipment = this.store.record();
    const lines = (shipment?.lines ?? []).map(({ orderLineId }) => ({ orderLineId, ...this.leaving.taken(orderLineId) }));
    return { version: shipment?.version ?? 0, carrier: this.draft().carrier, lines };
  }

  private keep(): void {
    this.store.perform(api.dispatch.changeShipment, { params: { id: this.id() }, body: this.body() }, () => this.entry.settle());
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
