/** A copy of the plan in which something is supposed, held against the plan as it is. */
import { type Day, dayOf, parsePrice, parseQuantity, Refusal, WorkingCalendar } from '../../base';
import { TooWide } from '../compact/exact';
import { PlanKeeper } from '../compact/keeper';
import { writeResult } from '../compact/written';
import type { SizedOffer } from '../offers';
import type { DataProblem, PlanResult, PlanProblem } from '../problem';
import { figuresOf, type FigureFacts, type LineFigure, type PlanFigures, type PlanSummary, type SuggestionFigure } from './figures';
import { CopyRows, type Overlay, type PlanCopy, type Supposition } from './suppose';

/** An order line that comes on another day; `null` where it is in one of the two plans only. */
export interface LineChange {
  readonly id: string;
  readonly before: LineFigure | null;
  readonly after: LineFigure | null;
}

/** What is suggested for an item, before and after. */
export interface SuggestionChange {
  readonly item: string;
  readonly warehouse: string;
  readonly before: SuggestionFigure | null;
  readonly after: SuggestionFigure | null;
}

export interface Comparison {
  readonly before: PlanSummary;
  readonly after: PlanSummary;
  /** Those that come later first. */
  readonly lines: readonly LineChange[];
  readonly suggestions: readonly SuggestionChange[];
  /** Data problems that only what is supposed has. */
  readonly problems: readonly DataProblem[];
}

type SupplierOffer = SizedOffer & { readonly supplier: string };

export class WhatIf {
  private readonly rows: CopyRows;
  private readonly keeper: PlanKeeper;
  private readonly facts: FigureFacts;
  private readonly offers = new Map<string, readonly SupplierOffer[]>();
  private readonly before: PlanFigures;
  private lost: ReadonlySet<string> = new Set();
  private overlay: Overlay = { documents: new Map(), items: new Map() };

  /** Plans a copy. Refuses `tooLarge` where a figure has more digits than can be planned with. */
  constructor(copy: PlanCopy) {
    this.rows = new CopyRows(copy);
    try {
      this.keeper = new PlanKeeper(copy.problem);
    } catch (error) {
      if (!(error instanceof TooWide)) throw error;
      throw new Refusal('tooLarge', 'Some quantity is too large to plan with: look for a figure with too many digits.');
    }
    this.facts = {
      costs: new Map(copy.facts.costs.map((each) => [each.item, parsePrice(each.cost)])),
      offers: (item) => this.offersFor(item),
      calendarOf: calendarsOf(copy.problem),
      prices: new Map(copy.facts.coming.map((each) => [each.id, parsePrice(each.price)])),
      starts: new Map<string, Day>(copy.facts.making.map((each) => [each.id, dayOf(each.start)])),
      reserved: new Map(copy.facts.reserved.map((each) => [each.demand, each.quantity])),
    };
    this.before = figuresOf(this.keeper, this.facts);
  }

  /**
   * Supposes these, and nothing that was supposed before, and says what is different. Only what depends on it is planned
   * anew. Refuses like {@link CopyRows.overlay}; what was supposed before stays then.
   */
  suppose(suppositions: readonly Supposition[]): Comparison {
    const overlay = this.rows.overlay(suppositions);
    const before = this.overlay;
    this.overlay = overlay;
    this.lost = new Set(suppositions.flatMap((each) => (each.kind === 'lose' ? [each.supplier] : [])));
    this.offers.clear();
    for (const name of new Set([...before.documents.keys(), ...overlay.documents.keys()]))
      this.keeper.tellDocument(name, overlay.documents.get(name) ?? this.rows.documentRows(name));
    for (const code of new Set([...before.items.keys(), ...overlay.items.keys()]))
      this.keeper.tellItem(overlay.items.get(code) ?? this.rows.itemRows(code));
    this.keeper.live.catchUp();
    return compare(this.before, figuresOf(this.keeper, this.facts));
  }

  /** The plan with what is supposed, written out. */
  result(): PlanResult {
    return writeResult(this.keeper.live);
  }

  private offersFor(item: string): readonly SupplierOffer[] {
    let offers = this.offers.get(item);
    if (!offers) {
      offers = (this.rows.offers.get(item) ?? [])
        .filter((each) => !this.lost.has(each.supplier))
        .map(({ supplier, preferred, leadDays, minimum, multiple, prices }) => ({
          supplier,
          preferred,
          leadDays,
          minimum: parseQuantity(minimum, 5),
          multiple: parseQuantity(multiple, 5),
          prices: prices.map((each) => ({ from: parseQuantity(each.from, 5), price: parsePrice(each.price) })),
        }));
      this.offers.set(item, offers);
    }
    return offers;
  }
}

/** The working calendar of each warehouse of a problem; every day works where there is none. */
function calendarsOf({ calendars, warehouses }: PlanProblem): (warehouse: string) => WorkingCalendar {
  const every = new WorkingCalendar({ code: '', workdays: [1, 2, 3, 4, 5, 6, 7], holidays: [] });
  const made = new Map(calendars.flatMap((each) => (each.workdays.length > 0 ? [[each.code, new WorkingCalendar(each)] as const] : [])));
  const found = new Map(warehouses.map((each) => [each.code, made.get(each.calendar) ?? every]));
  return (warehouse) => found.get(warehouse) ?? every;
}

function compare(before: PlanFigures, after: PlanFigures): Comparison {
  const lines: LineChange[] = [];
  for (const id of new Set([...before.lines.keys(), ...after.lines.keys()])) {
    const [was, is] = [before.lines.get(id) ?? null, after.lines.get(id) ?? null];
    if (was?.ready !== is?.ready || was?.wanted !== is?.wanted) lines.push({ id, before: was, after: is });
  }
  lines.sort((a, b) => latenessOf(b.after) - latenessOf(a.after) || (a.id < b.id ? -1 : 1));
  const known = new Set(before.problems.map((each) => `${each.code} ${each.subject}`));
  return {
    before: before.summary,
    after: after.summary,
    lines,
    suggestions: suggestionChanges(before.suggestions, after.suggestions),
    problems: after.problems.filter((each) => !known.has(`${each.code} ${each.subject}`)),
  };
}

function latenessOf(line: LineFigure | null): number {
  if (line === null) return -1;
  return line.ready === null ? Infinity : Math.max(0, dayOf(line.ready) - dayOf(line.wanted));
}

/** What is suggested in one of two plans only, of an item side by side in order of day. */
function suggestionChanges(before: readonly SuggestionFigure[], after: readonly SuggestionFigure[]): SuggestionChange[] {
  const keyOf = (each: SuggestionFigure): string =>
    JSON.stringify([each.item, each.warehouse, each.kind, each.quantity, each.placeBy, each.due, each.supplier]);
  const counts = new Map<string, number>();
  for (const each of before) counts.set(keyOf(each), (counts.get(keyOf(each)) ?? 0) + 1);
  const added: SuggestionFigure[] = [];
  for (const each of after) {
    const left = counts.get(keyOf(each)) ?? 0;
    if (left > 0) counts.set(keyOf(each), left - 1);
    else added.push(each);
  }
  const places = new Map<string, { gone: SuggestionFigure[]; come: SuggestionFigure[] }>();
  const at = (each: SuggestionFigure): { gone: SuggestionFigure[]; come: SuggestionFigure[] } => {
    const key = `${each.item}@${each.warehouse}`;
    const place = places.get(key) ?? { gone: [], come: [] };
    places.set(key, place);
    return place;
  };
  for (const each of before) {
    const left = counts.get(keyOf(each)) ?? 0;
    if (left === 0) continue;
    counts.set(keyOf(each), left - 1);
    at(each).gone.push(each);
  }
  for (const each of added) at(each).come.push(each);
  const changes: SuggestionChange[] = [];
  for (const { gone, come } of places.values()) {
    for (let index = 0; index < Math.max(gone.length, come.length); index += 1) {
      const [was, is] = [gone[index] ?? null, come[index] ?? null];
      const one = is ?? was;
      if (one) changes.push({ item: one.item, warehouse: one.warehouse, before: was, after: is });
    }
  }
  return changes;
}
