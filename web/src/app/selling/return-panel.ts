/** A customer's return: what is to come, what waits to be decided on, and what made it good. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, numberAttribute, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { signalStore } from '@ngrx/signals';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type ReturnView } from '@terrace/contract';
import { returnDecisions, type Quantity, type ReturnDecision } from '@terrace/core';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import type { Act } from '../ui/acts';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { NumberField } from '../ui/fields';
import { grouped, longDay, shortDay } from '../ui/format';
import { Labelled } from '../ui/labelled';
import { LineCell, Lines, type LineColumn } from '../ui/lines';
import { CompanyCurrency } from '../ui/money';
import { withRecord } from '../ui/record.store';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { allOf, sentOf, toCome, toDecide, type ReturnLine } from './return-lines';

const ReturnStore = signalStore(withRecord<ReturnView>(api.returns.getReturn, 'customerReturn'));
type Decided = ReturnView['decisions'][number];

const WORDS: Readonly<Record<ReturnDecision, { readonly act: string; readonly done: string }>> = {
  restock: { act: 'Back into stock', done: 'back into stock' },
  rework: { act: 'Have it worked over', done: 'worked over' },
  scrap: { act: 'Scrap it', done: 'scrapped' },
};

@Component({
  selector: 't-return-panel',
  imports: [DocumentFrame, Labelled, LineCell, Lines, NumberField, NzButtonModule, RouterLink, SelectField, SelectOption, TextField],
  providers: [ReturnStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-document kind="customerReturn" [store]="store" [state]="store.record()?.state ?? ''" [facts]="facts()" [acts]="acts()" [wide]="wide()">
      @if (store.record(); as back) {
        <section class="pane">
          <h2>{{ step() === 'decide' ? 'Held: what becomes of it?' : step() === 'receive' ? 'To come' : 'What came back' }}</h2>
          <t-lines [lines]="back.lines" [columns]="columns()">
            <ng-template tCell="now" [of]="back.lines" let-line>
              @if (most(line) > 0) {
                <t-number
                  [label]="(step() === 'decide' ? 'How many to decide on of ' : 'How many came of ') + line.code + ' ' + line.lot + line.serial"
                  [value]="typed()[line.id] ?? ''"
                  (valueChange)="type(line, $event)"
                />
              }
            </ng-template>
          </t-lines>
          @if (step() === 'decide' && may()) {
            <div class="deciding">
              <t-field name="Reason for scrap">
                <t-select label="Reason for scrap" [value]="reason()" (valueChange)="reason.set($event)">
                  <t-option value="" label="" />
                  @for (each of choices.all().reasons; track each.code) {
                    <t-option [value]="each.code" label="{{ each.name }}" />
                  }
                </t-select>
              </t-field>
              <t-field class="grow" name="Note"><t-text label="Note" [value]="note()" (valueChange)="note.set($event)" /></t-field>
            </div>
            <div class="acts">
              @for (each of decisions; track each) {
                <button
                  nz-button
                  type="button"
                  class="act"
                  [class.first]="each === 'restock'"
                  [disabled]="store.busy() || sent().length === 0 || (each === 'scrap' && reason() === '')"
                  (click)="decide(back, each)"
                >
                  {{ words[each].act }}
                </button>
              }
            </div>
          }
        </section>
        @if (back.decisions.length > 0) {
          <section class="pane">
            <h2>Decided</h2>
            <t-lines [lines]="back.decisions" [columns]="decidedColumns">
              <ng-template tCell="production" [of]="back.decisions" let-each>
                @if (each.productionId !== null) {
                  <a class="code" [routerLink]="['/production/orders', each.productionId]">{{ each.production }}</a>
                }
              </ng-template>
            </t-lines>
          </section>
        }
      }
    </t-document>
  `,
  styles: `
    .deciding {
      display: flex;
      flex-wrap: wrap;
      gap: 10px;
      margin: 10px 0;
    }
    .grow {
      flex: 1 1 180px;
    }
  `,
})
export class ReturnPanel {
  readonly id = input.required({ transform: numberAttribute });
  readonly wide = input(false);
  protected readonly store = inject(ReturnStore);
  protected readonly choices = inject(Choices);
  private readonly currency = inject(CompanyCurrency);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly decisions = returnDecisions;
  protected readonly words = WORDS;
  protected readonly typed = signal<Readonly<Record<string, string>>>({});
  protected readonly reason = signal('');
  protected readonly note = signal('');
  protected readonly may = computed(() => this.rights().has('stores.adjust'));
  /** What is to be done next: what is held is decided on before more is taken in. */
  protected readonly step = computed((): 'receive' | 'decide' | '' => {
    const lines = this.store.record()?.lines ?? [];
    if (this.store.record()?.state === 'cancelled') return '';
    if (lines.some((line) => toDecide(line) > 0)) return 'decide';
    return lines.some((line) => toCome(line) > 0) ? 'receive' : '';
  });
  protected readonly sent = computed(() => sentOf(this.store.record()?.lines ?? [], this.typed(), (line) => this.most(line)));
  protected readonly facts = computed((): readonly Fact[] => {
    const back = this.store.record();
    if (!back) return [];
    const credits = back.credits.filter(({ state }) => state !== 'reversed');
    return [
      { title: 'Customer', value: back.customer },
      { title: 'Order', value: back.order, kind: 'code', page: ['/selling/orders', back.orderId] },
      { title: 'Because', value: back.reason },
      { title: 'Agreed on', value: longDay(back.date) },
      { title: 'Comes to', value: back.warehouse },
      {
        title: 'Given back',
        value: credits
          .map(({ number, total, currency }) => `${number} ${this.currency.behind(grouped(total.replace('-', '')), currency)}`)
          .join(', '),
        page: ['/accounts/invoices', credits[0]?.id ?? 0],
      },
      { title: 'Replaced by', value: back.replacement, kind: 'code', page: ['/selling/orders', back.replacementId ?? 0] },
    ];
  });
  protected readonly acts = computed((): readonly Act[] => {
    const back = this.store.record();
    if (!back) return [];
    const { id, version, lines, state, replacementId } = back;
    const goes = state !== 'cancelled';
    const credited = lines.some((line) => line.credited !== '0');
    const untouched = lines.every((line) => line.decided === '0' && line.credited === '0');
    const came = lines.some((line) => line.received !== '0');
    return [
      { words: 'Take in what came', shown: this.step() === 'receive' && this.may(), first: true, act: () => this.receive(back) },
      {
        words: 'Give the money back',
        shown:
          goes && lines.some((line) => line.received !== line.credited) && came && replacementId === null && this.rights().has('accounts.invoice'),
        act: () => this.store.perform(api.returns.creditReturn, { params: { id }, body: { version } }),
      },
      {
        words: 'Replace it',
        shown: goes && !credited && replacementId === null && this.rights().has('selling.edit'),
        act: () => this.store.perform(api.returns.replaceReturn, { params: { id }, body: { version } }),
      },
      { words: 'Print the slip (PDF)', shown: goes, paper: `/api/papers/customerReturn/${id}` },
      {
        words: came ? 'Take back what was taken in' : 'Cancel it',
        shown: goes && untouched && replacementId === null && this.may(),
        asks: {
          heading: came ? `Take back what was taken in on ${back.number}` : `Cancel ${back.number}`,
          consequences: came ? 'Contrary moves are posted; what came back is with the customer again.' : 'Nothing comes back on it any more.',
          action: came ? 'Take it back' : 'Cancel it',
        },
        act: () => this.store.perform(api.returns.takeReturnBack, { params: { id }, body: { version } }),
      },
    ];
  });
  protected readonly columns = computed((): readonly LineColumn<ReturnLine>[] => [
    { title: 'Item', item: (line) => line, below: (line) => [line.lot, line.serial].filter(Boolean).join(' ') },
    { title: 'Left with', value: (line) => line.shipment, code: true, shown: this.wide() },
    { title: 'Agreed', figure: true, value: (line) => grouped(line.quantity), unit: (line) => line.unit },
    { title: 'Came', figure: true, value: (line) => (line.received === '0' ? '' : grouped(line.received)) },
    { title: 'Decided', figure: true, value: (line) => grouped(line.decided), shown: (this.store.record()?.decisions.length ?? 0) > 0 },
    { title: 'Now', figure: true, cell: 'now', shown: this.step() !== '' && this.may(), width: 110 },
  ]);
  protected readonly decidedColumns: readonly LineColumn<Decided>[] = [
    { value: (each) => shortDay(each.date) },
    { value: (each) => `${grouped(each.quantity)} ${each.code}` },
    { value: (each) => WORDS[each.decision].done },
    { cell: 'production' },
    { quiet: true, value: (each) => [each.why, each.who].filter(Boolean).join(' · ') },
  ];

  constructor() {
    showRecord(this.id, this.store);
    effect(() => {
      const [back, step] = [this.store.record(), this.step()];
      untracked(() => this.typed.set(back ? allOf(back.lines, step === 'decide' ? toDecide : toCome) : {}));
    });
  }

  protected most(line: ReturnLine): Quantity {
    return this.step() === 'decide' ? toDecide(line) : toCome(line);
  }

  protected type({ id }: ReturnLine, quantity: string): void {
    this.typed.update((typed) => ({ ...typed, [id]: quantity }));
  }

  private receive({ id, version }: ReturnView): void {
    this.store.perform(api.returns.receiveReturn, { params: { id }, body: { version, lines: this.sent() } });
  }

  protected decide({ id, version }: ReturnView, decision: ReturnDecision): void {
    const body = { version, decision, reason: decision === 'scrap' ? this.reason() : '', note: this.note(), lines: this.sent() };
    this.store.perform(api.returns.decideReturn, { params: { id }, body }, () => this.note.set(''));
  }
}
