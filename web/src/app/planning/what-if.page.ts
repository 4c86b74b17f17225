/** What would be if: things supposed on a copy of the plan, held against the plan as it is; nothing is saved until it is adopted. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { dayOf } from '@terrace/core';
import { whenHeard } from '../client/heard';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { ChoiceField } from '../ui/choice-field';
import { Confirm } from '../ui/confirm';
import { ShortDayPipe, grouped, shortDay } from '../ui/format';
import { Refused } from '../ui/refusal';
import { CompareChart, type Compared } from './compare-chart';
import { PlanningNav } from './planning-nav';
import { SupposeForm } from './suppose-form';
import type { LineRow, SuggestedRow, WhatIfView } from './what-if.desk';
import { CompanyCurrency } from '../ui/money';
import { WhatIfStore } from './what-if.store';
import { CheckField } from '../ui/check-field';
import { Sheet } from '../ui/sheet';
import { Note } from '../ui/note';

const SAME = 'as in today’s plan';

interface Tile {
  readonly name: string;
  readonly after: string;
  readonly difference: string;
  readonly worse: boolean;
}

@Component({
  imports: [Note, Sheet, NzButtonModule, CheckField, RouterLink, ChoiceField, Confirm, CompareChart, PlanningNav, Refused, ShortDayPipe, SupposeForm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './what-if.page.html',
  styleUrls: ['./planning.less', './what-if.page.less'],
})
export class WhatIfPage {
  protected readonly store = inject(WhatIfStore);
  protected readonly choices = inject(Choices);
  private readonly currency = inject(CompanyCurrency);
  private readonly router = inject(Router);
  private readonly ngrx = inject(Store);
  private readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  private readonly form = viewChild(SupposeForm);
  protected readonly mayAdopt = computed(() => this.rights().has('planning.release'));
  protected readonly adopting = signal(false);
  /** Customers of supposed orders, by key. */
  protected readonly customers = signal<ReadonlyMap<number, number>>(new Map());
  protected readonly newOrders = computed(() => this.store.inEffect().filter((each) => each.supposition.kind === 'order'));
  protected readonly tiles = computed(() => tilesOf(this.store.view(), this.currency.behind));
  protected readonly purchases = computed(() =>
    compared(this.store.view(), (summary) => summary.purchasesBy.map((each) => [each.start, Number(each.amount)])),
  );
  protected readonly stock = computed(() =>
    compared(this.store.view(), (summary) => summary.stockBy.map((each) => [each.start, Number(each.amount)])),
  );
  protected readonly work = computed(() => compared(this.store.view(), (summary) => summary.inWorkBy.map((each) => [each.start, each.orders])));

  constructor() {
    void this.store.open(this.ngrx.selectSignal(sessionFeature.selectSession)()?.user.login ?? '');
    whenHeard(
      () => ['plan'],
      () => this.store.planChanged(),
    );
    const asked = inject(ActivatedRoute).snapshot.queryParamMap.get('move');
    if (asked !== null) {
      const taken = effect(() => {
        const form = this.form();
        if (!form || !this.store.copy()) return;
        untracked(() => void form.begin(asked));
        taken.destroy();
        void this.router.navigate([], { replaceUrl: true });
      });
    }
  }

  /** When a line is there in one of the two plans; empty where it is in the other only. */
  protected readyWords(figure: LineRow['before']): string {
    return figure === null ? '' : figure.ready === null ? 'no supply' : shortDay(figure.ready);
  }

  /** Days that a line comes later than in today's plan; below zero for sooner. */
  protected moved({ before, after }: LineRow): string {
    if (!before?.ready || !after?.ready) return '';
    const days = dayOf(after.ready) - dayOf(before.ready);
    if (days === 0) return '';
    return days > 0 ? `${days} later` : `${-days} sooner`;
  }

  protected isLate({ after }: LineRow): boolean {
    return after !== null && (after.ready === null || after.ready > after.wanted);
  }

  protected suggestionWords(row: SuggestedRow, which: 'before' | 'after'): string {
    const figure = row[which];
    if (figure === null) return '';
    const from =
      figure.kind === 'buy' ? (figure.supplier ? ` from ${figure.supplier}` : '') : figure.kind === 'transfer' ? ` from ${figure.from ?? ''}` : '';
    return `${figure.kind} ${grouped(figure.quantity)} by ${shortDay(figure.placeBy)} for ${shortDay(figure.due)}${from}`;
  }

  protected name(key: number, customerId: number): void {
    this.customers.update((known) => new Map(known).set(key, customerId));
  }

  protected unnamed(): boolean {
    return this.newOrders().some((each) => !this.customers().get(each.key));
  }

  protected adopt(): void {
    this.adopting.set(false);
    this.store.adopt(this.customers(), () => this.customers.set(new Map()));
  }
}

function tilesOf(view: WhatIfView | null, inCurrency: (text: string) => string): readonly Tile[] {
  if (!view) return [];
  const { before, after } = view;
  const count = (name: string, was: number, is: number): Tile => ({
    name,
    after: String(is),
    difference: is === was ? SAME : `${is > was ? `${is - was} more` : `${was - is} fewer`} than the ${was} of today’s plan`,
    worse: is > was,
  });
  const money = (name: string, was: string, is: string, moreIsWorse: boolean): Tile => {
    const difference = Math.round(Number(is) - Number(was));
    return {
      name,
      after: grouped(String(Math.round(Number(is)))),
      difference:
        difference === 0
          ? SAME
          : `${grouped(String(Math.abs(difference)))} ${difference > 0 ? 'more' : 'less'} than the ${grouped(String(Math.round(Number(was))))} of today’s plan`,
      worse: moreIsWorse && difference > 0,
    };
  };
  const late = count('Order lines late', before.late + before.unserved, after.late + after.unserved);
  return [
    { ...late, difference: late.difference + (after.unserved === 0 ? '' : `; ${after.unserved} without any supply`) },
    money(inCurrency('Purchases to come,'), before.purchases, after.purchases, true),
    money(inCurrency('Stock on average,'), before.stock, after.stock, true),
    count('Peak of production in work', before.fullest, after.fullest),
  ];
}

function compared(view: WhatIfView | null, rowsOf: (summary: WhatIfView['before']) => (readonly [string, number])[]): readonly Compared[] {
  if (!view) return [];
  const after = rowsOf(view.after);
  return rowsOf(view.before).map(([start, value], index) => ({ start, before: value, after: after[index]?.[1] ?? 0 }));
}
