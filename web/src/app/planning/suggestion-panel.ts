/** A suggestion beside the list: why, for whom, who could supply it; changed here, it is kept as it was changed. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, output, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { addDays } from '@terrace/core';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { DocumentOpener } from '../shell/open-document';
import { BalanceDrawing } from '../ui/balance-drawing';
import { DateField, NumberField } from '../ui/fields';
import { CostPipe, GroupedPipe, LongDayPipe, ShortDayPipe } from '../ui/format';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { stripOf } from './record-strip';
import { figuresOf, type KeptFigures } from './suggestion-figures';
import { SuggestionStore } from './suggestion.store';
import { InCurrencyPipe } from '../ui/money';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';
import { Note } from '../ui/note';
import { demandWords } from './served-words';

const WEEK = 7;

@Component({
  selector: 't-suggestion-panel',
  imports: [
    Note,
    Sheet,
    NzButtonModule,
    SelectField,
    SelectOption,
    TextField,
    InCurrencyPipe,
    RouterLink,
    GroupedPipe,
    LongDayPipe,
    ShortDayPipe,
    CostPipe,
    NumberField,
    DateField,
    Labelled,
    Refused,
    BalanceDrawing,
  ],
  providers: [SuggestionStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './suggestion-panel.html',
  styleUrl: './panel.less',
  styles: `
    .wide {
      overflow-x: auto;
    }
    .fields {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(130px, 1fr));
      gap: 8px 10px;
    }
    tr[aria-selected='true'] {
      background: var(--chosen);
    }
  `,
})
export class SuggestionPanel {
  readonly name = input.required<string>();
  /** It is now kept under this number. */
  readonly renamed = output<string>();
  protected readonly store = inject(SuggestionStore);
  protected readonly choices = inject(Choices);
  protected readonly opener = inject(DocumentOpener);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly mayChange = computed(() => this.rights().has('planning.release') && !this.store.gone());
  protected readonly until = signal('');
  protected readonly asideNote = signal('');
  private readonly shown = computed(() => {
    const each = this.store.suggestion();
    return each === null ? '' : [each.id, each.quantity, each.due, each.supplierId, each.version].join(' ');
  });
  protected readonly draft = linkedSignal<string, KeptFigures | null>({ source: this.shown, computation: () => untracked(() => this.fromPlan()) });
  protected readonly changed = computed(() => {
    const [draft, plan] = [this.draft(), this.fromPlan()];
    return JSON.stringify(draft) !== JSON.stringify(plan);
  });
  protected readonly strip = computed(() => {
    const [record, draft, suggestion] = [this.store.record(), this.draft(), this.store.suggestion()];
    if (!record || !draft || !suggestion) return null;
    return stripOf(record, this.changed() ? { id: suggestion.id, quantity: draft.quantity, due: draft.due } : null);
  });
  protected readonly others = computed(() => this.choices.all().warehouses.filter((each) => each.id !== this.store.suggestion()?.warehouseId));

  constructor() {
    effect(() => {
      const name = this.name();
      untracked(() => this.store.load(name));
    });
  }

  private fromPlan(): KeptFigures | null {
    const each = this.store.suggestion();
    return each && figuresOf(each, this.choices.all().warehouses);
  }

  protected set(change: Partial<KeptFigures>): void {
    this.draft.update((draft) => draft && { ...draft, ...change });
  }

  protected asKind(value: string): KeptFigures['kind'] {
    return value === 'buy' || value === 'make' ? value : 'transfer';
  }

  protected keep(): void {
    const draft = this.draft();
    if (draft) this.store.keep(draft, (number) => this.renamed.emit(number));
  }

  protected aside(): void {
    this.store.putAside(this.until(), this.asideNote());
  }

  protected inAWeek(): string {
    return addDays(this.store.record()?.today ?? '2027-01-01', WEEK);
  }

  /** Suggestions and forecasts have no document of their own. */
  protected readonly demandWords = demandWords;

  protected isDocument(demand: string): boolean {
    return demand !== 'safety' && !demand.includes('@') && !demand.startsWith('forecast ');
  }
}
