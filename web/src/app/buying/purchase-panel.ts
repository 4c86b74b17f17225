/** A purchase order: approve, send, and receive what has arrived. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnyRoute, type BodyIn, type PurchaseView } from '@terrace/contract';
import { asQuantity, parseQuantity, readDecimal, writeQuantity } from '@terrace/core';
import { sessionFeature } from '../client/session.state';
import { pointerOf } from '../shell/pointing';
import type { Act } from '../ui/acts';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { NumberField } from '../ui/fields';
import { Control, entryOf, overRecord } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { grouped, longDay, shortDay } from '../ui/format';
import { LineQuantities, NO_LINES, lineDraft, linePlace, linesOf, type LineDraft } from '../ui/line-quantities';
import { BelowLine, LineCell, Lines, type LineColumn } from '../ui/lines';
import { CompanyCurrency } from '../ui/money';
import { PiecesField } from '../ui/pieces-field';
import { withRecord } from '../ui/record.store';
import { LateCosts } from './late-costs';
import { TextField } from '../ui/text-field';

const PurchaseStore = signalStore(withRecord<PurchaseView>(api.buying.getPurchase, 'purchaseOrder'));

type PurchaseLine = PurchaseView['lines'][number];
type Receipt = PurchaseView['receipts'][number];

/** What has arrived, with the lots or serial numbers on the labels. */
interface ReceiptDraft extends LineDraft {
  readonly deliveryNote: string;
}

@Component({
  selector: 't-purchase-panel',
  imports: [Control, Labelled, NzButtonModule, TextField, BelowLine, DocumentFrame, LateCosts, LineCell, Lines, NumberField, PiecesField],
  providers: [PurchaseStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './purchase-panel.html',
})
export class PurchasePanel {
  readonly id = input.required({ transform: numberAttribute });
  readonly wide = input(false);
  protected readonly store = inject(PurchaseStore);
  private readonly currency = inject(CompanyCurrency);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly point = pointerOf(
    this.store.record,
    (order) => order.warehouseId,
    (order) => order.lines[0]?.itemId,
  );
  private readonly draft = signal<ReceiptDraft>({ ...NO_LINES, deliveryNote: '' });
  protected readonly arrived = new LineQuantities(linesOf(this.draft));
  /** The receipt whose late costs are shown. */
  protected readonly costOf = signal(0);
  private readonly state = computed(() => this.store.record()?.state ?? '');
  protected readonly receiving = computed(() => ['sent', 'partReceived'].includes(this.state()) && this.rights().has('buying.receive'));
  protected readonly lines = computed(() =>
    (this.store.record()?.lines ?? []).flatMap((line) => {
      const quantity = this.arrived.of(line.id);
      const read = readDecimal(quantity);
      return read && read.mantissa !== 0n ? [{ lineId: line.id, quantity }] : quantity !== '' && !read ? [{ lineId: line.id, quantity }] : [];
    }),
  );
  protected readonly entry = entryOf({
    part: () => `receipt of ${this.store.record()?.id ?? 0}`,
    draft: this.draft,
    problem: this.store.problem,
    route: () => (this.receiving() && this.lines().length > 0 ? api.buying.receive : null),
    body: () => this.body(),
    place: (place) =>
      linePlace(
        place,
        this.lines().map((line) => line.lineId),
      ),
  });
  protected readonly receiveWords = computed(() => {
    const lines = this.lines();
    const [first] = lines;
    const line = this.store.record()?.lines.find((each) => each.id === first?.lineId);
    if (!first || !line) return 'Receive';
    if (lines.length > 1) return `Receive ${lines.length} lines`;
    return readDecimal(first.quantity) ? `Receive ${first.quantity} ${line.unit} of ${line.code}` : `Receive ${line.code}`;
  });

  protected readonly facts = computed((): readonly Fact[] => {
    const order = this.store.record();
    if (!order) return [];
    return [
      { title: 'Supplier', value: order.supplier },
      { title: 'Deliver to', value: order.warehouse },
      { title: 'Entered', value: longDay(order.orderDate) },
      { title: 'Total', value: grouped(order.total), kind: 'money' },
    ];
  });
  protected readonly acts = computed((): readonly Act[] => {
    const order = this.store.record();
    if (!order) return [];
    const [state, edits] = [order.state, this.rights().has('buying.edit')];
    // By the rules of the house some need no approval.
    const goes = state === 'approved' || (state === 'draft' && order.approval === '');
    return [
      {
        words: `Approve ${this.currency.behind(grouped(order.total))}`,
        shown: state === 'draft' && !goes && this.rights().has('buying.approve'),
        first: true,
        act: () => this.act(api.buying.approvePurchase),
      },
      { words: `Send to ${order.supplier}`, shown: goes && edits, first: true, act: () => this.act(api.buying.sendPurchase) },
      { words: 'Change', shown: (state === 'draft' || state === 'approved') && edits, page: ['/buying/orders', order.id, 'change'] },
      { words: 'Print (PDF)', paper: `/api/papers/purchaseOrder/${order.id}` },
      {
        words: `Cancel ${state === 'partReceived' ? 'the rest' : 'the order'}`,
        shown: ['draft', 'approved', 'sent', 'partReceived'].includes(state) && edits,
        asks: {
          heading: `Cancel ${order.number}`,
          consequences: 'What has not been received is no longer expected; the plan may suggest it again.',
          action: 'Cancel it',
          reasonWanted: true,
        },
        act: (reason) => this.store.perform(api.buying.cancelPurchase, { params: { id: order.id }, body: { version: order.version, reason } }),
      },
    ];
  });
  protected readonly columns = computed((): readonly LineColumn<PurchaseLine>[] => {
    const [wide, receiving] = [this.wide(), this.receiving()];
    return [
      {
        title: 'Item',
        item: (line) => ({ ...line, description: line.description + (line.supplierItemCode ? `, theirs ${line.supplierItemCode}` : '') }),
      },
      { title: 'Ordered', figure: true, value: (line) => grouped(line.quantity), unit: (line) => line.unit },
      { title: 'Due', code: true, value: (line) => shortDay(line.dueDate) },
      { title: 'Received', figure: true, shown: wide, value: (line) => grouped(line.received) },
      { title: 'To come', figure: true, value: (line) => grouped(line.outstanding) },
      { title: 'Has arrived', figure: true, shown: receiving, cell: 'arrived', width: 120 },
      { title: 'Price', figure: true, shown: !receiving, value: (line) => grouped(line.price) },
      { title: 'Amount', figure: true, shown: !receiving && wide, value: (line) => grouped(line.amount) },
    ];
  });
  protected readonly receiptColumns: readonly LineColumn<Receipt>[] = [
    { code: true, value: (receipt) => receipt.number },
    { value: (receipt) => longDay(receipt.date) },
    { value: (receipt) => receipt.lines.map((line) => `${grouped(line.quantity)} ${line.unit} ${line.code}`).join(', ') },
    { quiet: true, value: (receipt) => receipt.deliveryNote },
    {
      quiet: true,
      value: (receipt) => (receipt.reversed ? 'taken back' : ''),
      acts: (receipt) => [
        {
          words: 'Take back',
          shown: !receipt.reversed && this.rights().has('buying.receive'),
          asks: {
            heading: 'Take this receipt back',
            consequences:
              'The goods leave stock again at today’s cost, and the order expects them again. It is refused where they are used or reserved.',
            action: 'Take it back',
          },
          act: () => this.store.perform(api.buying.reverseReceipt, { params: { id: receipt.id } }),
        },
        {
          words: 'Late costs',
          shown: !receipt.reversed && this.rights().has('accounts.see'),
          act: () => this.costOf.update((shown) => (shown === receipt.id ? 0 : receipt.id)),
        },
      ],
    },
  ];
  protected readonly namesPieces = (line: PurchaseLine): boolean => this.receiving() && line.tracking !== 'none' && this.arrived.of(line.id) !== '';
  protected readonly showsCosts = (receipt: Receipt): boolean => receipt.id === this.costOf();

  constructor() {
    showRecord(this.id, this.store);
    overRecord(this.entry, this.store.record, ({ lines }) => ({ ...lineDraft(lines, (line) => line.id), deliveryNote: '' }));
  }

  /** Fills in that all that is still to come has come. */
  protected allArrived(): void {
    this.arrived.typeAll(
      Object.fromEntries(
        (this.store.record()?.lines ?? [])
          .filter((line) => line.outstanding !== '0')
          .map((line) => [line.id, writeQuantity(asQuantity(parseQuantity(line.outstanding, line.decimals)))]),
      ),
    );
  }

  private act(route: AnyRoute): void {
    this.store.perform(route, { params: { id: this.id() }, body: { version: this.store.record()?.version ?? 0 } });
  }

  private body(): BodyIn<typeof api.buying.receive> {
    const lines = this.lines().map(({ lineId }) => ({ lineId, ...this.arrived.taken(lineId) }));
    return { version: this.store.record()?.version ?? 0, deliveryNote: this.draft().deliveryNote, lines };
  }

  protected receive(): void {
    this.store.perform(api.buying.receive, { params: { id: this.id() }, body: this.body() }, () => this.entry.settle());
  }
}
