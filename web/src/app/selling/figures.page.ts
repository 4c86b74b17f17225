/** Figures of selling: what came in and is to ship, what was kept of what was promised, what is left of what was charged, what was lost. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { api, marginsBy, type SellingFigures } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { Empty } from '../ui/empty';
import { DateField } from '../ui/fields';
import { Fold } from '../ui/fold';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { Labelled } from '../ui/labelled';
import { InCurrencyPipe } from '../ui/money';
import { OneOfField } from '../ui/one-of';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { lostWords } from './quote-words';
import { WeeksChart } from './weeks-chart';

type By = SellingFigures['by'];
const BY_WORDS: Readonly<Record<By, string>> = { customer: 'Customer', group: 'Item group', person: 'Sales person', order: 'Order' };
const PAGES: Readonly<Partial<Record<By, string>>> = { customer: '/accounts/customers', order: '/selling/orders' };

@Component({
  imports: [DateField, Empty, Fold, GroupedPipe, InCurrencyPipe, Labelled, OneOfField, Refused, RouterLink, Sheet, ShortDayPipe, WeeksChart],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './figures.page.html',
  styleUrl: './figures.page.less',
})
export class FiguresPage {
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  protected readonly options = marginsBy.map((value) => ({ value, words: BY_WORDS[value] }));
  protected readonly words = BY_WORDS;
  protected readonly pages = PAGES;
  protected readonly lostWords = lostWords;
  protected readonly from = signal('');
  protected readonly until = signal('');
  protected readonly by = signal<By>('customer');
  protected readonly figures = signal<SellingFigures | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly kept = computed(() => {
    const figures = this.figures();
    return (['promised', 'wished'] as const).map((key) => {
      const { lines, kept } = figures?.[key] ?? { lines: 0, kept: 0 };
      return { key, lines, kept, share: lines === 0 ? null : Math.round((kept * 100) / lines) };
    });
  });

  constructor() {
    effect(() => {
      const [from, until, by] = [this.from(), this.until(), this.by()];
      untracked(() => this.load({ ...(from === '' ? {} : { from }), ...(until === '' ? {} : { until }), by }));
    });
  }

  /** The orders taken in a week, as far as the week is of the time that is looked at. */
  protected takenIn(week: string, { from, until }: SellingFigures): Record<string, string> {
    const last = addDays(week, 6);
    return { view: 'taken', from: week < from ? from : week, until: last > until ? until : last };
  }

  private load(query: { from?: string; until?: string; by: By }): void {
    this.ask(this.client.call(api.selling.figures, { query }), {
      next: (figures) => {
        this.figures.set(figures);
        this.problem.set(null);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
