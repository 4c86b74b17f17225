/** Moving what lies in one place to another bin, or to another state for a reason. */
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal } from '@angular/core';
import { Choices } from '../client/choices';
import { NumberField } from '../ui/fields';
import { stateWords } from '../ui/documents';
import { StockPanelStore } from './stock-panel.store';

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
  imports: [NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="acts">
      <label class="field" style="width: 96px"
        ><span>Quantity</span><t-number label="Quantity to move" [(value)]="quantity" [disabled]="place().serial !== ''" [quiet]="true"
      /></label>
      <label class="field"
        ><span>To bin</span
        ><select #bin class="box" (change)="binId.set(+bin.value)">
          @for (each of bins(); track each.id) {
            <option [value]="each.id" [selected]="each.id === binId()">{{ each.code }}</option>
          }
        </select></label
      >
      <label class="field"
        ><span>As</span
        ><select #kept class="box" (change)="choose(kept.value)">
          @for (each of states; track each) {
            <option [value]="each" [selected]="each === state()">{{ words(each) }}</option>
          }
        </select></label
      >
      @if (state() !== place().state) {
        <label class="field"><span>Why</span><input #why class="box" [value]="reason()" (input)="reason.set(why.value)" /></label>
      }
      <button type="button" class="act first small" [disabled]="store.busy() || !changes()" (click)="move()">Move {{ quantity() }}</button>
      <button type="button" class="act small" (click)="done.emit()">Leave it</button>
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
