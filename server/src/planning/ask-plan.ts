/** Questions that the kept plan itself answers: an item's record, and pegging both ways. */
import { PegTrail, dateOf, recordOf, writeDecimal, type PegNode, type PlanKeeper, type Reserved } from '@terrace/core';
import type { ItemRecord, PegView, RecordEventView } from '@terrace/contract';
import type { ItemWords } from './plan-to-write';

export type Question =
  | { readonly about: 'record'; readonly item: string; readonly warehouse: string }
  | { readonly about: 'below'; readonly demands: readonly string[] }
  /** What serves one demand of an item; of what a suggestion calls for, the suggestion's name. */
  | { readonly about: 'serving'; readonly item: string; readonly warehouse: string; readonly demand: string }
  | { readonly about: 'above'; readonly kind: 'receipt' | 'suggestion'; readonly id: string }
  /** An order line that nobody has entered yet: what would serve it. */
  | { readonly about: 'capable'; readonly item: string; readonly warehouse: string; readonly quantity: string; readonly wanted: string };

export interface Answer {
  readonly events?: readonly RecordEventView[];
  /** Of `record`: what the plan goes by, with the supplier's lead time where the rule leaves it to them. */
  readonly rule?: ItemRecord['rule'];
  /** For `below`, one list for each demand asked for. */
  readonly pegs?: readonly (readonly PegView[])[];
  /** Of `capable`: when all of it is there; `null` where a part has no supply. */
  readonly ready?: string | null;
}

/** What is looked up only where a question asks for it. */
export interface Looks {
  readonly trail: () => PegTrail;
  readonly reserved: () => Reserved;
}

export function answerQuestion(keeper: PlanKeeper, { trail, reserved }: Looks, items: ReadonlyMap<string, ItemWords>, question: Question): Answer {
  const plan = keeper.live;
  const { book } = plan;
  const written = (node: number, value: number): string => writeDecimal(BigInt(value), book.decimals[book.itemOf(node)] ?? 0);
  const viewOf = (peg: PegNode): PegView => {
    const code = book.itemCodes[book.itemOf(peg.node)] ?? '';
    const words = items.get(code);
    return {
      kind: peg.kind,
      id: peg.id,
      itemId: words?.id ?? 0,
      code,
      description: words?.description ?? '',
      unit: words?.unit ?? '',
      warehouse: book.warehouseCodes[book.warehouseOf(peg.node)] ?? '',
      source: peg.kind === 'suggestion' ? (book.rules[peg.node]?.source ?? null) : null,
      quantity: written(peg.node, peg.quantity),
      start: dateOf(peg.start),
      due: dateOf(peg.due),
      ready: peg.ready === null ? null : dateOf(peg.ready),
      wanted: dateOf(peg.wanted),
      below: peg.below.map(viewOf),
    };
  };
  switch (question.about) {
    case 'record': {
      const node = book.find(question.item, question.warehouse);
      if (node === undefined) return { events: [] };
      const rule = book.rules[node];
      return {
        rule: rule ? { source: rule.source, leadDays: rule.leadDays, threshold: written(node, rule.threshold), sizing: rule.sizing } : null,
        events: recordOf(plan, node).map((each) => ({
          ...each,
          day: dateOf(each.day),
          given: dateOf(each.given),
          placeBy: each.placeBy === null ? null : dateOf(each.placeBy),
          quantity: written(node, each.quantity),
        })),
      };
    }
    case 'below':
      return { pegs: question.demands.map((demand) => trail().below(demand).map(viewOf)) };
    case 'serving':
      return { pegs: [trail().below(question.demand, book.find(question.item, question.warehouse)).map(viewOf)] };
    case 'capable': {
      const { item, warehouse, quantity, wanted } = question;
      const id = 'as if ordered/1';
      keeper.tellDocument('as if ordered', {
        receipts: [],
        demands: [{ id, item, warehouse, date: wanted, quantity, kind: 'order', probability: null }],
      });
      try {
        plan.catchUp();
        const asIf = new PegTrail(plan, reserved());
        const ready = asIf.arrivals.ofOrders().get(id)?.ready ?? null;
        return { ready: ready === null ? null : dateOf(ready), pegs: [asIf.below(id).map(viewOf)] };
      } finally {
        keeper.tellDocument('as if ordered', { receipts: [], demands: [] });
        plan.catchUp();
      }
    }
    case 'above':
      return { pegs: [trail().above(question.kind, question.id).map(viewOf)] };
  }
}
