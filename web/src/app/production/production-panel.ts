/** A production order: its components and whether they are there; release, finish as planned, take back. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, type BodyIn, type PieceInput, type ProductionView } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { pointerOf } from '../shell/pointing';
import type { Act } from '../ui/acts';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { NumberField } from '../ui/fields';
import { Control, entryOf, overRecord } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { grouped, longDay } from '../ui/format';
import { BelowLine, Lines, type LineColumn } from '../ui/lines';
import { CompanyCurrency } from '../ui/money';
import { PiecesField } from '../ui/pieces-field';
import { withRecord } from '../ui/record.store';
import { Fold } from '../ui/fold';

const ProductionStore = signalStore(withRecord<ProductionView>(api.production.getProduction, 'productionOrder'));

type Needed = ProductionView['components'][number];
type Completion = ProductionView['completions'][number];

/** A share as a percentage: 0.125 is 12.5. */
const percent = (share: string): string => String(Math.round(Number(share) * 1000) / 10);

interface CompletionDraft {
  readonly quantity: string;
  /** Lots or serial numbers of what is made, and by component those that are named. */
  readonly pieces: readonly PieceInput[];
  readonly taken: Readonly<Record<number, readonly PieceInput[]>>;
}

@Component({
  selector: 't-production-panel',
  imports: [Control, Labelled, Fold, BelowLine, DocumentFrame, Lines, NumberField, PiecesField],
  providers: [ProductionStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './production-panel.html',
})
export class ProductionPanel {
  readonly id = input.required({ transform: numberAttribute });
  readonly wide = input(false);
  protected readonly store = inject(ProductionStore);
  private readonly currency = inject(CompanyCurrency);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly point = pointerOf(
    this.store.record,
    (order) => order.warehouseId,
    (order) => order.itemId,
  );
  protected readonly draft = signal<CompletionDraft>({ quantity: '', pieces: [], taken: {} });
  protected readonly entry = entryOf({
    part: () => `completion of ${this.store.record()?.id ?? 0}`,
    draft: this.draft,
    problem: this.store.problem,
    route: () => (this.finishable() ? api.production.finishProduction : null),
    body: () => this.body(),
    place: (place) => {
      const [, index] = /^taken\.(\d+)\./.exec(place) ?? [];
      return index === undefined ? place.replace(/^pieces\..*/, 'pieces') : `taken.${this.named()[Number(index)]?.componentId ?? index}`;
    },
  });
  protected readonly short = computed(() => this.store.record()?.components.filter((each) => each.short !== '0') ?? []);
  private readonly state = computed(() => this.store.record()?.state ?? '');
  protected readonly finishable = computed(() => ['released', 'running'].includes(this.state()) && this.rights().has('production.report'));

  protected readonly facts = computed((): readonly Fact[] => {
    const order = this.store.record();
    if (!order) return [];
    return [
      { title: 'Make', value: `${grouped(order.quantity)} ${order.unit}` },
      { title: 'Item', value: order.code, kind: 'code', page: ['/catalogue/items', order.itemId], below: order.description },
      { title: 'Finished', value: `${grouped(order.finished)} of ${grouped(order.quantity)}` },
      { title: 'Cancelled', value: order.cancelled === '0' ? '' : `${grouped(order.cancelled)} ${order.unit}` },
      { title: 'Start', value: longDay(order.startDate) },
      { title: 'Due', value: longDay(order.dueDate), trouble: order.late },
      { title: 'Cost so far', value: grouped(order.cost), kind: 'money' },
      { title: 'Cost of one', value: order.finished === '0' ? '' : grouped(order.unitCost), kind: 'money' },
    ];
  });
  protected readonly acts = computed((): readonly Act[] => {
    const order = this.store.record();
    if (!order) return [];
    const { id, version, state } = order;
    return [
      {
        words: `Release ${order.number}`,
        shown: state === 'draft' && this.rights().has('production.edit'),
        first: true,
        act: () => this.store.perform(api.production.releaseProduction, { params: { id }, body: { version } }),
      },
      { words: `Finish ${grouped(this.draft().quantity)} ${order.unit} as planned`, shown: this.finishable(), first: true, act: () => this.finish() },
      {
        words: `Cancel ${state === 'running' ? 'the rest' : 'the order'}`,
        shown: ['draft', 'released', 'running'].includes(state) && this.rights().has('production.edit'),
        asks: {
          heading: `Cancel ${order.number}`,
          consequences: 'What is not finished is no longer expected, and the components reserved for it become free.',
          action: 'Cancel it',
          reasonWanted: true,
        },
        act: (reason) => this.store.perform(api.production.cancelProduction, { params: { id }, body: { version, reason } }),
      },
    ];
  });
  protected readonly columns = computed((): readonly LineColumn<Needed>[] => [
    { title: 'Item', item: (each) => each },
    {
      title: 'Each',
      figure: true,
      shown: this.wide(),
      value: (each) => each.per,
      below: (each) => (each.scrap === '0' ? '' : `+${percent(each.scrap)} % scrap allowance`),
    },
    { title: 'Needed', figure: true, value: (each) => grouped(each.needed), unit: (each) => each.unit },
    { title: 'Taken', figure: true, value: (each) => grouped(each.issued) },
    { title: 'Reserved', figure: true, value: (each) => grouped(each.reserved) },
    { title: 'Can have', figure: true, value: (each) => grouped(each.available) },
    { title: 'Short', figure: true, value: (each) => (each.short === '0' ? '' : grouped(each.short)) },
  ]);
  protected readonly isShort = (each: Needed): boolean => each.short !== '0';
  protected readonly namesSerials = (each: Needed): boolean => this.finishable() && each.tracking === 'serial' && each.outstanding !== '0';
  protected readonly completionColumns: readonly LineColumn<Completion>[] = [
    { code: true, value: (each) => each.number },
    { value: (each) => longDay(each.date) },
    { figure: true, value: (each) => grouped(each.quantity), unit: () => this.store.record()?.unit ?? '' },
    { figure: true, value: (each) => grouped(each.cost), unit: () => this.currency.code() },
    {
      quiet: true,
      value: (each) => (each.reversed ? 'taken back' : ''),
      acts: (each) => [
        {
          words: 'Take back',
          shown: !each.reversed && this.rights().has('production.report'),
          asks: {
            heading: 'Take this completion back',
            consequences: 'What was made leaves stock again and its components return. It is refused where the made pieces are used or reserved.',
            action: 'Take it back',
          },
          act: () => this.store.perform(api.production.reverseCompletion, { params: { id: each.id } }),
        },
      ],
    },
  ];

  constructor() {
    showRecord(this.id, this.store);
    overRecord(this.entry, this.store.record, ({ outstanding, components }) => ({
      quantity: outstanding,
      pieces: [],
      taken: Object.fromEntries(components.map((each) => [each.id, []])),
    }));
  }

  private named(): { componentId: number; pieces: PieceInput[] }[] {
    return Object.entries(this.draft().taken)
      .filter(([, pieces]) => pieces.length > 0)
      .map(([componentId, pieces]) => ({ componentId: Number(componentId), pieces: pieces.map((piece) => ({ ...piece })) }));
  }

  private body(): BodyIn<typeof api.production.finishProduction> {
    const { quantity, pieces } = this.draft();
    const taken = this.named();
    return {
      version: this.store.record()?.version ?? 0,
      quantity,
      ...(pieces.length > 0 ? { pieces: pieces.map((piece) => ({ ...piece })) } : {}),
      ...(taken.length > 0 ? { taken } : {}),
    };
  }

  private finish(): void {
    this.store.perform(api.production.finishProduction, { params: { id: this.id() }, body: this.body() }, () => this.entry.settle());
  }
}
