/** Moving what lies in one place to another bin, or to another state for a reason. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Choices } from '../client/choices';
import { NumberField } from '../ui/fields';
import { Control, disabled, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { stateWords } from '../ui/documents';
import { StockPanelStore } from './stock-panel.store';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';

type Kept = 'available' | 'held' | 'rejected';
const KEPT: readonly Kept[] = ['available', 'held', 'rejected'];

interface MoveDraft {
  readonly quantity: string;
  readonly toBinId: number;
  readonly toState: Kept;
  readonly reason: string;
}

const asKept = (text: string): Kept => KEPT.find((each) => each === text) ?? 'available';

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
  imports: [Control, Labelled, NzButtonModule, SelectField, SelectOption, TextField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="acts">
      <t-field name="Quantity" style="width: 96px"><t-number label="Quantity to move" [formField]="entry.fields.quantity" /></t-field>
      <t-field name="To bin"
        ><t-select as="number" [formField]="entry.fields.toBinId">
          @for (each of bins(); track each.id) {
            <t-option [value]="each.id" label="{{ each.code }}" />
          }</t-select
      ></t-field>
      <t-field name="As"
        ><t-select [formField]="entry.fields.toState">
          @for (each of states; track each) {
            <t-option [value]="each" label="{{ words(each) }}" />
          }</t-select
      ></t-field>
      @if (draft().toState !== place().state) {
        <t-field name="Why"><t-text [formField]="entry.fields.reason" /></t-field>
      }
      <button nz-button type="button" class="act first small" [disabled]="store.busy() || !changes()" (click)="move()">
        Move {{ draft().quantity }}
      </button>
      <button nz-button type="button" class="act small" (click)="leave()">Leave it</button>
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
  protected readonly draft = signal<MoveDraft>({ quantity: '', toBinId: 0, toState: 'available', reason: '' });
  protected readonly entry = entryOf({
    keeps: false,
    draft: this.draft,
    problem: this.store.problem,
    place: (place) => place.replace(/^lines\.0\./, ''),
    shape: (path) => disabled(path.quantity, () => this.place().serial !== ''),
  });
  protected readonly changes = computed(() => this.draft().toBinId !== this.place().binId || this.draft().toState !== this.place().state);
  protected readonly words = (state: string): string => stateWords(state).words;

  constructor() {
    effect(() => {
      const { quantity, binId, state } = this.place();
      untracked(() => this.entry.begin({ quantity, toBinId: binId, toState: asKept(state), reason: '' }));
    });
  }

  protected leave(): void {
    this.entry.settle();
    this.done.emit();
  }

  protected move(): void {
    const { binId, lot, serial, state } = this.place();
    const { reason, ...to } = this.draft();
    this.store.relocate({ ...to, binId, state: asKept(state), lot, serial }, reason, () => this.leave());
  }
}
