/** An adjustment: what it changed, why, on which account; its slip; taking it back. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute } from '@angular/core';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, type AdjustmentView } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import type { Act } from '../ui/acts';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { grouped, longDay } from '../ui/format';
import { Lines, type LineColumn } from '../ui/lines';
import { CompanyCurrency } from '../ui/money';
import { withRecord } from '../ui/record.store';

const AdjustmentStore = signalStore(withRecord<AdjustmentView>(api.stores.getAdjustment, 'adjustment'));

@Component({
  selector: 't-adjustment-panel',
  imports: [DocumentFrame, Lines],
  providers: [AdjustmentStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-document kind="adjustment" [store]="store" [state]="store.record()?.reversed ? 'reversed' : ''" [facts]="facts()" [acts]="acts()">
      @if (store.record(); as adjustment) {
        @if (adjustment.note !== '') {
          <p>{{ adjustment.note }}</p>
        }
        <section class="pane">
          <h2>Lines</h2>
          <t-lines [lines]="adjustment.lines" [columns]="columns()" />
        </section>
      }
    </t-document>
  `,
})
export class AdjustmentPanel {
  readonly id = input.required({ transform: numberAttribute });
  protected readonly store = inject(AdjustmentStore);
  private readonly currency = inject(CompanyCurrency);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly facts = computed((): readonly Fact[] => {
    const adjustment = this.store.record();
    if (!adjustment) return [];
    return [
      { title: 'Reason', value: adjustment.reason },
      { title: 'Account', value: adjustment.account },
      { title: 'Date', value: longDay(adjustment.date) },
      { title: 'In', value: adjustment.warehouse },
      { title: 'By', value: adjustment.who },
      { title: 'Worth', value: grouped(adjustment.value), kind: 'money' },
    ];
  });
  protected readonly acts = computed((): readonly Act[] => {
    const adjustment = this.store.record();
    if (!adjustment) return [];
    return [
      { words: 'Slip (PDF)', paper: `/api/papers/adjustment/${adjustment.id}` },
      {
        words: 'Take back',
        shown: !adjustment.reversed && this.rights().has('stores.adjust'),
        asks: {
          heading: `Take ${adjustment.number} back`,
          consequences: 'Contrary moves are posted today, at today’s cost. It is refused where what it brought is used or reserved.',
          action: 'Take it back',
        },
        act: () => this.store.perform(api.stores.reverseAdjustment, { params: { id: adjustment.id } }),
      },
    ];
  });
  protected readonly columns = computed((): readonly LineColumn<AdjustmentView['lines'][number]>[] => [
    { title: 'Item', item: (line) => line },
    { title: 'Bin', code: true, value: (line) => line.bin },
    { title: 'Lot or number', code: true, value: (line) => line.serial || line.lot },
    { title: 'Change', figure: true, value: (line) => grouped(line.change), unit: (line) => line.unit },
    { title: this.currency.code(), figure: true, value: (line) => grouped(line.value) },
  ]);

  constructor() {
    showRecord(this.id, this.store);
  }
}
