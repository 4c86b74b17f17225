/** Adjusting stock: lines of item, place, lot or numbers; type the change or the new quantity, the one gives the other. */
import { ChangeDetectionStrategy, Component, afterNextRender, computed, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type { ItemChoice, PieceView } from '@terrace/contract';
import { Choices } from '../client/choices';
import { focusActions } from '../shell/focus.state';
import { useKeys } from '../ui/keys';
import { sessionFeature } from '../client/session.state';
import { DateField, NumberField } from '../ui/fields';
import { stateWords } from '../ui/documents';
import { Control, entryOf, writable } from '../ui/forms';
import { GroupedPipe } from '../ui/format';
import { Labelled } from '../ui/labelled';
import { ItemField } from '../ui/item-field';
import { PiecesField } from '../ui/pieces-field';
import { Refused } from '../ui/refusal';
import { HoldersList } from './reservations';
import { AdjustStore, thereOf, type AdjustLine, type KeptState } from './adjust.store';
import { InCurrencyPipe } from '../ui/money';
import { Leave } from '../ui/leave';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';

@Component({
  imports: [
    Control,
    Labelled,
    Sheet,
    NzButtonModule,
    SelectField,
    SelectOption,
    TextField,
    Leave,
    InCurrencyPipe,
    HoldersList,
    ItemField,
    NumberField,
    DateField,
    PiecesField,
    Refused,
    GroupedPipe,
  ],
  providers: [AdjustStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Adjust stock in {{ warehouse() }}</h1>
      <div class="header">
        <t-field name="Reason"
          ><t-select [formField]="entry.fields.reason">
            <t-option value="" label="choose" />
            @for (each of choices.all().reasons; track each.code) {
              <t-option [value]="each.code" label="{{ each.name }}" />
            }</t-select
        ></t-field>
        <t-field name="Date"><t-date label="Date" [formField]="entry.fields.date" /></t-field>
        <t-field class="wide" name="Note"><t-text [formField]="entry.fields.note" /></t-field>
      </div>
      <label class="field" style="max-width: 420px"><span>Item</span><t-item-field label="Item" (taken)="take($event)" /></label>
      @if (store.lines().length > 0) {
        <t-sheet>
          <thead>
            <tr>
              <th>Item</th>
              <th>Bin</th>
              <th>State</th>
              <th class="figure">There now</th>
              <th class="figure">Change</th>
              <th class="figure">New quantity</th>
              <th class="figure">{{ 'Each' | inCurrency }}</th>
              <th><span class="sr">Drop</span></th>
            </tr>
          </thead>
          <tbody>
            @for (line of store.lines(); track $index; let index = $index) {
              <tr>
                <td>
                  <span class="code">{{ line.item.code }}</span>
                  <div class="quiet">{{ line.item.description }}</div>
                </td>
                <td>
                  <t-select [value]="line.binId" [label]="'Bin of ' + line.item.code" (valueChange)="store.place(index, { binId: +$event })">
                    @for (each of bins(); track each.id) {
                      <t-option [value]="each.id" label="{{ each.code }}" />
                    }
                  </t-select>
                </td>
                <td>
                  <t-select [value]="line.state" [label]="'State of ' + line.item.code" (valueChange)="choose(index, $event)">
                    @for (each of states; track each) {
                      <t-option [value]="each" label="{{ words(each) }}" />
                    }
                  </t-select>
                </td>
                <td class="figure">
                  {{ there(line) | grouped }} <span class="quiet">{{ line.item.unit }}</span>
                </td>
                <td style="width: 110px">
                  <t-number
                    [label]="'Change of ' + line.item.code"
                    [value]="line.change"
                    (valueChange)="store.typeChange(index, $event)"
                    [packs]="line.item.packs"
                    [refused]="fields()['lines.' + index + '.change'] ?? fields()['lines.' + index]"
                  />
                </td>
                <td style="width: 110px">
                  <t-number
                    [label]="'New quantity of ' + line.item.code"
                    [value]="line.target"
                    (valueChange)="store.typeTarget(index, $event)"
                    [packs]="line.item.packs"
                    [disabled]="line.tracking === 'serial'"
                    [refused]="fields()['lines.' + index + '.newQuantity']"
                  />
                </td>
                <td style="width: 100px">
                  @if (line.change !== '' && !line.change.startsWith('-')) {
                    <t-number
                      [label]="'Cost of one ' + line.item.code"
                      [value]="line.unitCost"
                      (valueChange)="store.place(index, { unitCost: $event })"
                      [refused]="fields()['lines.' + index + '.unitCost']"
                    />
                  }
                </td>
                <td><button nz-button type="button" class="act small" (click)="store.drop(index)">Drop</button></td>
              </tr>
              @if (line.tracking !== 'none') {
                <tr>
                  <td colspan="8">
                    <t-pieces
                      [tracking]="line.tracking"
                      [itemId]="line.item.id"
                      [name]="line.item.code"
                      [quantity]="line.change.replace('-', '')"
                      [incoming]="!line.change.startsWith('-')"
                      [proposed]="line.change.startsWith('-') ? proposed(line) : none"
                      [pieces]="line.pieces"
                      (piecesChange)="store.place(index, { pieces: $event })"
                      [refused]="piecesRefused(index)"
                    />
                  </td>
                </tr>
              }
            }
          </tbody>
        </t-sheet>
      } @else {
        <p class="quiet">Choose an item above: by code, barcode or words. Each becomes a line; all are posted at once.</p>
      }
      <t-refusal [problem]="store.problem()" />
      @if (store.holders().length > 0) {
        <section class="pane">
          <h2>It is held for</h2>
          <t-holders [holders]="store.holders()" (released)="store.release($event)" />
        </section>
      }
      <div class="acts">
        <button nz-button type="button" class="act first" [disabled]="store.busy() || !store.ready() || draft().reason === ''" (click)="save()">
          {{ saveWords() }} <kbd>Ctrl+Enter</kbd>
        </button>
      </div>
    </div>
    <t-leave [entry]="entry" />
  `,
  styleUrl: '../ui/entry.less',
})
export class AdjustPage {
  private readonly ngrx = inject(Store);
  protected readonly store = inject(AdjustStore);
  protected readonly choices = inject(Choices);
  private readonly itemField = viewChild.required(ItemField);
  private readonly today = toSignal(this.ngrx.select(sessionFeature.selectToday), { initialValue: '' });
  private readonly header = signal({ reason: '', note: '', date: '' });
  protected readonly draft = writable(
    () => ({ ...this.header(), lines: this.store.lines() }),
    ({ lines, ...header }) => {
      this.header.set(header);
      if (lines !== this.store.lines()) this.store.restore(lines);
    },
  );
  protected readonly entry = entryOf({ draft: this.draft, problem: this.store.problem });
  protected readonly states: readonly KeptState[] = ['available', 'held', 'rejected'];
  protected readonly none: readonly PieceView[] = [];
  protected readonly there = thereOf;
  protected readonly words = (state: string): string => stateWords(state).words;
  protected readonly fields = computed((): Readonly<Record<string, string>> => this.store.problem()?.fields ?? {});
  protected readonly bins = computed(() => this.choices.all().bins.filter((each) => each.warehouseId === this.choices.warehouseId()));
  protected readonly warehouse = computed(() => this.choices.all().warehouses.find((each) => each.id === this.choices.warehouseId())?.code ?? '');
  protected readonly saveWords = computed(() => {
    const [first, second] = this.store.lines();
    if (!first) return 'Adjust';
    return second ? `Adjust ${this.store.lines().length} lines` : `Adjust ${first.item.code} by ${first.change || '…'} ${first.item.unit}`;
  });

  constructor() {
    effect(() => {
      const date = this.today();
      untracked(() => this.entry.preset({ date }));
    });
    afterNextRender(() => this.itemField().focus());
    useKeys([{ key: 'Ctrl+Enter', words: 'Adjust', act: () => this.save() }]);
  }

  protected take(item: ItemChoice): void {
    this.ngrx.dispatch(focusActions.point({ itemId: item.id, warehouseId: this.choices.warehouseId() }));
    this.store.add(item, this.choices.warehouseId(), this.bins()[0]?.id ?? 0);
  }

  protected choose(index: number, state: string): void {
    this.store.place(index, { state: this.states.find((each) => each === state) ?? 'available' });
  }

  protected proposed(line: AdjustLine): readonly PieceView[] {
    return line.places
      .filter((place) => place.binId === line.binId && place.state === line.state)
      .map((place) => ({ lot: place.lot, serial: place.serial, quantity: place.quantity, bin: place.bin, expiry: place.expiry }));
  }

  protected piecesRefused(index: number): string {
    return this.store.problem()?.of(`lines.${index}.pieces`) ?? '';
  }

  protected save(): void {
    const { reason, note, date } = this.draft();
    if (reason === '') return;
    const other = date === this.today() ? '' : date;
    this.store.save({ warehouseId: this.choices.warehouseId(), reason, note, date: other }, () => this.entry.settle());
  }
}
