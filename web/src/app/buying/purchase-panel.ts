/** A purchase order: approve, send, and receive what has arrived. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, type AnyRoute, type PieceInput, type PurchaseView } from '@terrace/contract';
import { asQuantity, parseQuantity, readDecimal, writeQuantity } from '@terrace/core';
import { focusActions } from '../shell/focus.state';
import { sessionFeature } from '../client/session.state';
import { DocumentHead } from '../ui/document-head';
import { Confirm } from '../ui/confirm';
import { NumberField } from '../ui/fields';
import { GroupedPipe, LongDayPipe, ShortDayPipe } from '../ui/format';
import { PiecesField } from '../ui/pieces-field';
import { withRecord } from '../ui/record.store';
import { Refused } from '../ui/refusal';
import { LateCosts } from './late-costs';
import { InCurrencyPipe } from '../ui/money';

const PurchaseStore = signalStore(withRecord<PurchaseView>(api.buying.getPurchase, 'purchaseOrder'));

@Component({
  selector: 't-purchase-panel',
  imports: [InCurrencyPipe, DocumentHead, Refused, Confirm, NumberField, PiecesField, LateCosts, RouterLink, GroupedPipe, LongDayPipe, ShortDayPipe],
  providers: [PurchaseStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './purchase-panel.html',
})
export class PurchasePanel {
  readonly id = input.required<number>();
  readonly wide = input(false);
  protected readonly store = inject(PurchaseStore);
  private readonly ngrx = inject(Store);
  protected readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  readonly version = computed(() => this.store.record()?.version ?? 0);
  protected readonly asking = signal<'cancel' | number | null>(null);
  /** What has arrived, as typed, by line. */
  protected readonly arrived = signal<Readonly<Record<number, string>>>({});
  /** The lots or serial numbers on the labels, by line. */
  protected readonly pieces = signal<Readonly<Record<number, readonly PieceInput[]>>>({});
  /** The receipt whose late costs are shown. */
  protected readonly costOf = signal(0);
  protected readonly deliveryNote = signal('');
  protected readonly receiving = computed(
    () => ['sent', 'partReceived'].includes(this.store.record()?.state ?? '') && this.rights().has('buying.receive'),
  );
  protected readonly cancellable = computed(
    () => ['draft', 'approved', 'sent', 'partReceived'].includes(this.store.record()?.state ?? '') && this.rights().has('buying.edit'),
  );
  protected readonly lines = computed(() =>
    (this.store.record()?.lines ?? []).flatMap((line) => {
      const quantity = this.arrived()[line.id] ?? '';
      const read = readDecimal(quantity);
      return read && read.mantissa !== 0n ? [{ lineId: line.id, quantity }] : quantity !== '' && !read ? [{ lineId: line.id, quantity }] : [];
    }),
  );
  protected readonly fields = computed(() => {
    const problem = this.store.problem();
    return Object.fromEntries(this.lines().map((line, index) => [line.lineId, problem?.fields[`lines.${index}.quantity`]]));
  });
  protected readonly pieceProblem = computed((): Readonly<Record<number, string>> =>
    Object.fromEntries(this.lines().map((line, index) => [line.lineId, this.store.problem()?.of(`lines.${index}.pieces`) ?? ''])),
  );
  protected readonly receiveWords = computed(() => {
    const lines = this.lines();
    const [first] = lines;
    const line = this.store.record()?.lines.find((each) => each.id === first?.lineId);
    if (!first || !line) return 'Receive';
    if (lines.length > 1) return `Receive ${lines.length} lines`;
    return readDecimal(first.quantity) ? `Receive ${first.quantity} ${line.unit} of ${line.code}` : `Receive ${line.code}`;
  });

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => {
        this.arrived.set({});
        this.pieces.set({});
        this.store.load(id);
      });
    });
    effect(() => {
      const record = this.store.record();
      const [first] = record?.lines ?? [];
      if (record && first) untracked(() => this.point(first.itemId));
    });
  }

  protected point(itemId: number): void {
    this.ngrx.dispatch(focusActions.point({ itemId, warehouseId: this.store.record()?.warehouseId ?? null }));
  }

  protected type(lineId: number, quantity: string): void {
    this.arrived.update((arrived) => ({ ...arrived, [lineId]: quantity }));
  }

  protected name(lineId: number, pieces: readonly PieceInput[]): void {
    this.pieces.update((all) => ({ ...all, [lineId]: pieces }));
  }

  /** Fills in that all that is still to come has come. */
  protected allArrived(): void {
    this.arrived.set(
      Object.fromEntries(
        (this.store.record()?.lines ?? [])
          .filter((line) => line.outstanding !== '0')
          .map((line) => [line.id, writeQuantity(asQuantity(parseQuantity(line.outstanding, line.decimals)))]),
      ),
    );
  }

  protected approve(): void {
    this.act(api.buying.approvePurchase);
  }

  protected send(): void {
    this.act(api.buying.sendPurchase);
  }

  private act(route: AnyRoute): void {
    this.store.perform(route, { params: { id: this.id() }, body: { version: this.version() } });
  }

  protected receive(): void {
    this.store.perform(
      api.buying.receive,
      { params: { id: this.id() }, body: { version: this.version(), deliveryNote: this.deliveryNote(), lines: this.named() } },
      () => {
        this.arrived.set({});
        this.pieces.set({});
        this.deliveryNote.set('');
      },
    );
  }

  private named(): { lineId: number; quantity: string; pieces?: PieceInput[] }[] {
    return this.lines().map((line) => {
      const pieces = this.pieces()[line.lineId] ?? [];
      return pieces.length === 0 ? line : { ...line, pieces: [...pieces] };
    });
  }

  protected agree(reason: string): void {
    const asked = this.asking();
    this.asking.set(null);
    if (asked === 'cancel') this.store.perform(api.buying.cancelPurchase, { params: { id: this.id() }, body: { version: this.version(), reason } });
    else if (asked !== null) this.store.perform(api.buying.reverseReceipt, { params: { id: asked } });
  }
}
