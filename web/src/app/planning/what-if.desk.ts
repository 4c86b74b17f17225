/** The copy of the plan on which something is supposed, with the words that people know things by. */
import type { PlanCopyView } from '@terrace/contract';
import {
  WhatIf,
  type DataProblem,
  type LineFigure,
  type PlanSummary,
  type PlanningRule,
  type SuggestionFigure,
  type Supposition,
} from '@terrace/core';

/** An order line that differs, as people know it. */
export interface LineRow {
  readonly id: string;
  /** 0 for an order that is only supposed. */
  readonly orderId: number;
  readonly customer: string;
  readonly code: string;
  readonly wanted: string;
  readonly before: LineFigure | null;
  readonly after: LineFigure | null;
}

export interface SuggestedRow {
  readonly itemId: number;
  readonly code: string;
  readonly description: string;
  readonly unit: string;
  readonly warehouse: string;
  readonly before: SuggestionFigure | null;
  readonly after: SuggestionFigure | null;
}

export interface WhatIfView {
  readonly before: PlanSummary;
  readonly after: PlanSummary;
  readonly lines: readonly LineRow[];
  readonly suggestions: readonly SuggestedRow[];
  /** How many differ in all: only the first are told. */
  readonly allLines: number;
  readonly allSuggestions: number;
  readonly problems: readonly DataProblem[];
}

/** What could come or be wanted on another day. */
export interface MovableRow {
  readonly id: string;
  readonly what: 'order' | 'purchase' | 'production';
  readonly code: string;
  readonly quantity: string;
  readonly unit: string;
  readonly date: string;
  /** The customer of an order. */
  readonly whose: string;
}

export interface CopyWords {
  readonly seq: number;
  /** The last change that the copy knows of. */
  readonly historyId: number;
  readonly suppliers: PlanCopyView['words']['suppliers'];
}

const MOST_ROWS = 200;
const MOST_FOUND = 8;

export class WhatIfDesk {
  private readonly whatIf: WhatIf;
  private readonly items: ReadonlyMap<string, PlanCopyView['words']['items'][number]>;
  private readonly orders: ReadonlyMap<string, PlanCopyView['words']['orders'][number]>;
  private readonly movable: readonly MovableRow[];

  constructor(private readonly copy: PlanCopyView) {
    this.whatIf = new WhatIf(copy);
    this.items = new Map(copy.words.items.map((each) => [each.code, each]));
    this.orders = new Map(copy.words.orders.map((each) => [each.number, each]));
    const suppliers = new Set(copy.facts.coming.map((each) => each.id));
    const making = new Set(copy.facts.making.map((each) => each.id));
    const rows: MovableRow[] = [];
    for (const { id, item, quantity, date, kind } of copy.problem.demands)
      if (kind === 'order' && date !== null)
        rows.push({ id, what: 'order', code: item, quantity, unit: this.unitOf(item), date, whose: this.orderOf(id)?.customer ?? '' });
    for (const { id, item, quantity, date, locked } of copy.problem.receipts)
      if (date !== null && !locked && (suppliers.has(id) || making.has(id)))
        rows.push({ id, what: making.has(id) ? 'production' : 'purchase', code: item, quantity, unit: this.unitOf(item), date, whose: '' });
    this.movable = rows;
  }

  words(): CopyWords {
    const sold = new Set([...this.copy.facts.offers, ...this.copy.facts.coming].map((each) => each.supplier));
    return { seq: this.copy.seq, historyId: this.copy.historyId, suppliers: this.copy.words.suppliers.filter((each) => sold.has(each.code)) };
  }

  /** Supposes these. Refuses what can't be supposed, naming its place in the list as the field. */
  suppose(suppositions: readonly Supposition[]): WhatIfView {
    const { before, after, lines, suggestions, problems } = this.whatIf.suppose(suppositions);
    return {
      before,
      after,
      lines: lines.slice(0, MOST_ROWS).map((line) => {
        const order = this.orderOf(line.id);
        const supposed = suppositions.find((each) => each.kind === 'order' && line.id === `${each.name}/1`);
        return {
          ...line,
          orderId: order?.id ?? 0,
          customer: order?.customer ?? 'supposed',
          code: supposed?.kind === 'order' ? supposed.item : this.codeOf(line.id),
          wanted: (line.after ?? line.before)?.wanted ?? '',
        };
      }),
      suggestions: suggestions.slice(0, MOST_ROWS).map(({ item, warehouse, before: was, after: is }) => {
        const words = this.items.get(item);
        return {
          itemId: words?.id ?? 0,
          code: item,
          description: words?.description ?? '',
          unit: words?.unit ?? '',
          warehouse,
          before: this.named(was),
          after: this.named(is),
        };
      }),
      allLines: lines.length,
      allSuggestions: suggestions.length,
      problems,
    };
  }

  /** What could be moved, by number, item or customer in any order. */
  find(text: string): readonly MovableRow[] {
    const words = text.toLowerCase().split(/\s+/).filter(Boolean);
    const found: MovableRow[] = [];
    for (const row of this.movable) {
      const said = `${row.id} ${row.code} ${row.whose}`.toLowerCase();
      if (words.every((word) => said.includes(word))) found.push(row);
      if (found.length === MOST_FOUND) break;
    }
    return found;
  }

  /** How an item is planned in a warehouse, by what the rule says itself; `null` where none does. */
  rule(item: string, warehouse: string): PlanningRule | null {
    const rule = this.copy.problem.rules.find((each) => each.item === item && each.warehouse === warehouse);
    const own = this.copy.facts.own.find((each) => each.item === item && each.warehouse === warehouse);
    return rule ? { ...rule, ...own } : null;
  }

  private named(figure: SuggestionFigure | null): SuggestionFigure | null {
    if (!figure?.supplier) return figure;
    return { ...figure, supplier: this.copy.words.suppliers.find((each) => each.code === figure.supplier)?.name ?? figure.supplier };
  }

  private orderOf(id: string): PlanCopyView['words']['orders'][number] | undefined {
    return this.orders.get(id.slice(0, Math.max(0, id.lastIndexOf('/'))));
  }

  private codeOf(id: string): string {
    return this.movable.find((each) => each.id === id)?.code ?? '';
  }

  private unitOf(item: string): string {
    return this.items.get(item)?.unit ?? '';
  }
}
