/** A transfer: what is asked for, shipping it, receiving what arrived, giving up what did not. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, type TransferView } from '@terrace/contract';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { pointerOf } from '../shell/pointing';
import type { Act } from '../ui/acts';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { NumberField } from '../ui/fields';
import { Control, entryOf, overRecord } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { grouped, longDay } from '../ui/format';
import { LineQuantities, NO_LINES, lineDraft, linePlace, linesOf, type LineDraft } from '../ui/line-quantities';
import { BelowLine, LineCell, Lines, type LineColumn } from '../ui/lines';
import { PiecesField } from '../ui/pieces-field';
import { withRecord } from '../ui/record.store';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';

const TransferStore = signalStore(withRecord<TransferView>(api.stores.getTransfer, 'transfer'));

type TransferLine = TransferView['lines'][number];

interface TransferDraft extends LineDraft {
  /** Why what is missing is given up; empty where it stays on the way. */
  readonly reason: string;
  readonly note: string;
}

@Component({
  selector: 't-transfer-panel',
  imports: [Control, Labelled, SelectField, SelectOption, TextField, BelowLine, DocumentFrame, LineCell, Lines, NumberField, PiecesField],
  providers: [TransferStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './transfer-panel.html',
})
export class TransferPanel {
  readonly id = input.required({ transform: numberAttribute });
  protected readonly store = inject(TransferStore);
  protected readonly choices = inject(Choices);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly point = pointerOf(
    this.store.record,
    (transfer) => transfer.fromId,
    (transfer) => transfer.lines[0]?.itemId,
  );
  /** What can be done next, by whoever may. */
  protected readonly stage = computed((): 'ship' | 'receive' | '' => {
    const state = this.store.record()?.state;
    if (!this.rights().has('stores.adjust')) return '';
    return state === 'requested' ? 'ship' : state === 'shipped' || state === 'partReceived' ? 'receive' : '';
  });
  protected readonly draft = signal<TransferDraft>({ ...NO_LINES, reason: '', note: '' });
  /** What leaves or has arrived now. */
  protected readonly moving = new LineQuantities(linesOf(this.draft));
  protected readonly entry = entryOf({
    part: () => `transfer ${this.store.record()?.id ?? 0}`,
    draft: this.draft,
    problem: this.store.problem,
    route: () => ({ ship: api.stores.shipTransfer, receive: api.stores.receiveTransfer, '': null })[this.stage()],
    body: () => (this.stage() === 'ship' ? this.body() : this.received()),
    place: (place) =>
      linePlace(
        place,
        (this.store.record()?.lines ?? []).map((line) => line.id),
      ),
  });
  protected readonly facts = computed((): readonly Fact[] => {
    const transfer = this.store.record();
    if (!transfer) return [];
    return [
      { title: 'From', value: transfer.from },
      { title: 'To', value: transfer.to },
      { title: transfer.state === 'requested' ? 'To ship on' : 'Shipped', value: longDay(transfer.shipDate) },
      { title: 'Due', value: longDay(transfer.dueDate) },
      { title: 'By', value: transfer.carrier },
    ];
  });
  protected readonly acts = computed((): readonly Act[] => {
    const transfer = this.store.record();
    if (!transfer || !this.rights().has('stores.adjust')) return [];
    const stage = this.stage();
    return [
      { words: `Ship ${transfer.number} to ${transfer.to}`, shown: stage === 'ship', first: true, act: () => this.ship() },
      { words: 'Cancel it', shown: stage === 'ship', act: () => this.cancel() },
      { words: 'Receive what is typed', shown: stage === 'receive', first: true, act: () => this.receive() },
      {
        words: 'Take back',
        shown: transfer.state === 'shipped',
        asks: {
          heading: `Take ${transfer.number} back`,
          consequences: 'What is on its way lies where it lay and is reserved for this transfer again.',
          action: 'Take it back',
        },
        act: () =>
          this.store.perform(api.stores.takeTransferBack, { params: { id: this.id() }, body: { version: transfer.version } }, () =>
            this.entry.settle(),
          ),
      },
      { words: stage === 'ship' ? 'Pick list (PDF)' : 'Paper (PDF)', paper: `/api/papers/transfer/${transfer.id}` },
    ];
  });
  protected readonly columns = computed((): readonly LineColumn<TransferLine>[] => {
    const asked = this.store.record()?.state === 'requested';
    return [
      { title: 'Item', item: (line) => line },
      { title: 'Asked for', figure: true, value: (line) => grouped(line.quantity), unit: (line) => line.unit },
      { title: 'In', code: true, shown: asked, value: (line) => line.bin },
      { title: 'Reserved', figure: true, shown: asked, value: (line) => grouped(line.reserved) },
      { title: 'Shipped', figure: true, shown: !asked, value: (line) => grouped(line.shipped) },
      { title: 'Received', figure: true, shown: !asked, value: (line) => grouped(line.received) },
      { title: 'Lost', figure: true, shown: !asked, trouble: (line) => line.lost !== '0', value: (line) => grouped(line.lost) },
      { title: this.stage() === 'ship' ? 'Ship now' : 'Has arrived', figure: true, shown: this.stage() !== '', cell: 'moving', width: 110 },
    ];
  });
  protected readonly namesPieces = (line: TransferLine): boolean => line.tracking !== 'none' && this.stage() !== '';

  constructor() {
    showRecord(this.id, this.store);
    overRecord(this.entry, this.store.record, ({ lines, state }) => ({
      ...lineDraft(
        lines,
        (line) => line.id,
        (line) => (state === 'requested' ? line.reserved : line.onTheWay),
      ),
      reason: '',
      note: '',
    }));
  }

  private body() {
    const transfer = this.store.record();
    return { version: transfer?.version ?? 0, lines: (transfer?.lines ?? []).map(({ id }) => ({ lineId: id, ...this.moving.taken(id) })) };
  }

  private received() {
    const { reason, note } = this.draft();
    return { ...this.body(), note, ...(reason === '' ? {} : { reason }) };
  }

  private ship(): void {
    this.store.perform(api.stores.shipTransfer, { params: { id: this.id() }, body: this.body() }, () => this.entry.settle());
  }

  private receive(): void {
    this.store.perform(api.stores.receiveTransfer, { params: { id: this.id() }, body: this.received() }, () => this.entry.settle());
  }

  private cancel(): void {
    this.store.perform(api.stores.cancelTransfer, { params: { id: this.id() }, body: { version: this.store.record()?.version ?? 0 } });
  }
}
