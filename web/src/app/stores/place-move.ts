/** Moving what lies in one place to another bin, or to another state for a reason. */
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Choices } from '../client/choices';
import { NumberField } from '../ui/fields';
import { stateWords } from '../ui/documents';
import { StockPanelStore } from './stock-panel.store';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';

type Kept = 'available' | 'held' | 'rejected';
const KEPT: readonly Kept[] = ['available', 'held', 'rejected'];

export interface PlaceRow {
  readonly warehouseId: number;
  readonly binId: number;
  readonly lot: string;
  readonly serial: string;
  readonly state: string;
  readonly quantity: string;
}

@Component({
  selector: 't-place-move',
  imports: [NzButtonModule, SelectField, SelectOption, TextField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="acts">
      <label class="field" style="width: 96px"
        ><span>Quantity</span><t-number label="Quantity to move" [(value)]="quantity" [disabled]="place().serial !== ''" [quiet]="true"
      /></label>
      <label class="field"
        ><span>To bin</span
        ><t-select [value]="binId()" (valueChange)="binId.set(+$event)">
          @for (each of bins(); track each.id) {
            <t-option [value]="each.id" label="{{ each.code }}" />
          }</t-select
      ></label>
      <label class="field"
        ><span>As</span
        ><t-select [value]="state()" (valueChange)="choose($event)">
          @for (each of states; track each) {
            <t-option [value]="each" label="{{ words(each) }}" />
          }</t-select
      ></label>
      @if (state() !== place().state) {
        <label class="field"><span>Why</span><t-text [value]="reason()" (valueChange)="reason.set($event)" /></label>
      }
      <button nz-button type="button" class="act first small" [disabled]="store.busy() || !changes()" (click)="move()">Move {{ quantity() }}</button>
      <button nz-button type="button" class="act small" (click)="done.emit()">Leave it</button>
    </div>
  `,
})
export class PlaceMove {
  readonly place = input.required<PlaceRow>();
  readonly done = output();
  protected readonly store = inject(StockPanelStore);
  private readonly choices = inject(Choices);
  protected readonly states = KEPT;
  protected readonly bins = computed(() => this.choices.all().bins.filter((each) => each.warehouseId === this.place().warehouseId));
  protected readonly quantity = linkedSignal(() => this.place().quantity);
  protected readonly binId = linkedSignal(() => this.place().binId);
  protected readonly state = linkedSignal(() => this.place().state);
  protected readonly reason = signal('');
  protected readonly changes = computed(() => this.binId() !== this.place().binId || this.state() !== this.place().state);
  protected readonly words = (state: string): string => stateWords(state).words;

  protected choose(state: string): void {
    this.state.set(state);
  }

  protected move(): void {
    const { binId, lot, serial, state } = this.place();
    const kept = (text: string): Kept => KEPT.find((each) => each === text) ?? 'available';
    this.store.relocate(
      { binId, toBinId: this.binId(), state: kept(state), toState: kept(this.state()), quantity: this.quantity(), lot, serial },
      this.reason(),
      () => this.done.emit(),
    );
  }
}
