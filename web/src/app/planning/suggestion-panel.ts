/** A suggestion beside the list: why, for whom, who could supply it; changed here, it is kept as it was changed. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { DocumentOpener } from '../shell/open-document';
import { BalanceDrawing } from '../ui/balance-drawing';
import { ChoiceField } from '../ui/choice-field';
import { DateField, NumberField } from '../ui/fields';
import { CostPipe, GroupedPipe, LongDayPipe, ShortDayPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { stripOf } from './record-strip';
import { cheapestOf, figuresOf, unknownOf, type KeptFigures } from './suggestion-figures';
import { SuggestionStore } from './suggestion.store';
import { InCurrencyPipe } from '../ui/money';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';
import { Note } from '../ui/note';
import { demandWords } from './served-words';

const WEEK = 7;
const UNSAID: KeptFigures = { kind: 'buy', quantity: '', placeBy: '', due: '', supplierId: null, fromId: null, note: '' };

@Component({
  selector: 't-suggestion-panel',
  imports: [
    ChoiceField,
    Control,
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
  private readonly ngrx = inject(Store);
  private readonly today = this.ngrx.selectSignal(sessionFeature.selectToday);
  private readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  protected readonly mayChange = computed(() => this.rights().has('planning.release') && !this.store.gone());
  /** The one whose figures are typed over; with each version of it these begin anew, or go on top of what was typed. */
  private readonly shown = computed(() => {
    const each = this.store.suggestion();
    return each === null ? '' : [each.id, each.quantity, each.due, each.supplierId, each.version].join(' ');
  });
  protected readonly draft = signal<KeptFigures>(UNSAID);
  protected readonly entry = entryOf({
    part: () => `suggestion ${this.store.suggestion()?.id ?? ''}`,
    draft: this.draft,
    problem: this.store.problem,
    route: () => (this.mayChange() && this.store.suggestion() ? api.planning.keepSuggestion : null),
    body: (figures) => ({ ...figures, name: this.store.suggestion()?.id ?? '', seq: 0 }),
  });
  /** Until when it is put aside, and why. */
  private readonly asideDraft = signal({ until: '', note: '' });
  protected readonly asides = entryOf({
    keeps: false,
    draft: this.asideDraft,
    route: () => (this.store.suggestion() ? api.planning.ignoreSuggestions : null),
    body: (draft) => ({ ...draft, itemId: this.store.suggestion()?.itemId ?? 0, warehouseId: this.store.suggestion()?.warehouseId ?? 0 }),
  });
  protected readonly strip = computed(() => {
    const [record, draft, suggestion] = [this.store.record(), this.draft(), this.store.suggestion()];
    if (!record || !suggestion) return null;
    return stripOf(record, this.entry.typed() ? { id: suggestion.id, quantity: draft.quantity, due: draft.due } : null);
  });
  protected readonly others = computed(() => this.choices.all().warehouses.filter((each) => each.id !== this.store.suggestion()?.warehouseId));

  constructor() {
    effect(() => {
      const name = this.name();
      untracked(() => this.store.load(name));
    });
    let begun = '';
    effect(() => {
      if (this.shown() === '') return;
      untracked(() => {
        const each = this.store.suggestion();
        if (!each) return;
        const figures = figuresOf(each, this.choices.all().warehouses);
        if (each.id === begun) this.entry.onto(figures);
        else {
          this.entry.begin(figures);
          this.asides.begin({ until: this.inAWeek(), note: '' });
        }
        begun = each.id;
      });
    });
  }

  protected readonly cheapest = computed(() => cheapestOf(this.store.suggestion()?.choices ?? []));
  protected readonly otherWords = computed(() => unknownOf(this.store.suggestion()?.choices ?? [], this.draft().supplierId));

  protected take(supplierId: number): void {
    this.draft.update((draft) => ({ ...draft, supplierId }));
  }

  protected keep(): void {
    this.store.keep(this.draft(), (number) => {
      this.entry.settle();
      this.renamed.emit(number);
    });
  }

  protected aside(): void {
    const { until, note } = this.asideDraft();
    this.asides.settle();
    this.store.putAside(until === '' ? this.inAWeek() : until, note);
  }

  private inAWeek(): string {
    return addDays(this.today(), WEEK);
  }

  /** Suggestions and forecasts have no document of their own. */
  protected readonly demandWords = demandWords;

  protected isDocument(demand: string): boolean {
    return demand !== 'safety' && !demand.includes('@') && !demand.startsWith('forecast ');
  }
}
