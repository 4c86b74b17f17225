/** What stock is worth on any day; costs that come late; new standard costs. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type QueryOf } from '@terrace/contract';
import {
  Refusal,
  asAmount,
  asPrice,
  asQuantity,
  parseAmount,
  parseAskedPrice,
  parsePrice,
  splitByWeights,
  writeAmount,
  writePrice,
} from '@terrace/core';
import { assertPostingDate, postEvent } from '../accounts';
import { accountsOfItem } from '../catalogue';
import { asAmountText, asOptionalNumber, asText, listPage, listSum, type ListDefinition } from '../platform/list';
import { assertMay, atField, orNotFound, type Work } from '../platform/work';
import { addLateCost, revaluePools } from './valuing';

type WorthQuery = QueryOf<typeof api.stores.worth>;
type Worth = AnswerOf<typeof api.stores.worth>;

/** Summed by item first where the group is asked for, so that each change is looked at once. */
const SUMMED: Readonly<Record<WorthQuery['by'], string>> = {
  item: `select c.item_id as id, i.code as name, i.description as detail, i.unit_code as unit, i.id as link, c.quantity, c.value
    from (select item_id, sum(quantity) as quantity, sum(value) as value from worth_change, asked where date <= asked.day and (asked.place is null or warehouse_id = asked.place)
      group by item_id having sum(quantity) <> 0 or sum(value) <> 0) c join item i on i.id = c.item_id`,
  group: `select g.code as id, g.code as name, g.name as detail, '' as unit, null as link, 0 as quantity, sum(c.value) as value
    from (select item_id, sum(value) as value from worth_change, asked where date <= asked.day and (asked.place is null or warehouse_id = asked.place) group by item_id) c
    join item i on i.id = c.item_id join item_group g on g.code = i.group_code group by g.code having sum(c.value) <> 0`,
  warehouse: `select w.id as id, w.code as name, w.name as detail, '' as unit, null as link, 0 as quantity, c.value
    from (select warehouse_id, sum(value) as value from worth_change, asked where date <= asked.day and (asked.place is null or warehouse_id = asked.place) group by warehouse_id having sum(value) <> 0) c
    join warehouse w on w.id = c.warehouse_id`,
};

/** Only an item has a quantity, and each of it a cost: what all of it is worth, shared out. */
const QUANTITY = "case when c.unit <> '' then c.quantity end";
const UNIT_COST = "case when c.unit <> '' and c.quantity > 0 then unit_cost(c.value, c.quantity) end";
const WORTH = {
  id: asText('cast(c.id as text)'),
  name: asText('c.name'),
  detail: asText('c.detail'),
  unit: asText('c.unit'),
  link: asOptionalNumber('c.link'),
  quantity: { type: 'quantity', sql: QUANTITY, written: `coalesce(written_quantity(${QUANTITY}), '')` },
  unitCost: { type: 'price', sql: UNIT_COST, written: `coalesce(written_price(${UNIT_COST}), '')` },
  value: asAmountText('c.value'),
  /** Of all rows as they are narrowed, on each of them: the changes are summed once for both. */
  inAll: { ...asAmountText('sum(c.value) over ()'), afterwards: true },
} as const;

/** Value by item, group or warehouse at the end of a day: the sum of all changes through it. */
export function worthOn(work: Work, query: WorthQuery): Worth {
  const date = query.date ?? work.today;
  const list: ListDefinition = {
    columns: WORTH,
    from: `(with asked as (select ? as day, ? as place) ${SUMMED[query.by]}) c`,
    values: [date, query.warehouse ?? null],
    find: ['c.name', 'c.detail'],
    order: 'c.value desc',
    tie: 'c.name',
  };
  const { rows, total } = listPage<Worth['rows'][number] & { inAll: string }>(work, list, query);
  const value = rows[0]?.inAll ?? writeAmount(listSum(work, list, query, 'value'));
  return { date, value, total, rows: rows.map(({ inAll: _inAll, ...row }) => row) };
}

type LateCosts = AnswerOf<typeof api.stores.lateCosts>;

export function lateCostsOf(work: Work, receiptId: number): LateCosts {
  return work
    .rows<{
      id: number;
      number: string;
      date: string;
      what: LateCosts[number]['what'];
      amount: number;
      inStock: number;
      note: string;
      reversed: number;
    }>(
      `select c.id, c.number, c.date, c.what, c.amount, c.in_stock as inStock, c.note,
         c.reversal_of is not null or exists (select 1 from late_cost r where r.reversal_of = c.id) as reversed
       from late_cost c where c.receipt_id = ? order by c.id`,
      receiptId,
    )
    .map((row) => ({
      ...row,
      amount: writeAmount(row.amount),
      inStock: writeAmount(row.inStock),
      gone: writeAmount(row.amount - row.inStock),
      reversed: row.reversed === 1,
    }));
}

interface ReceivedMove {
  readonly id: number;
  readonly item: number;
  readonly warehouse: number;
  readonly quantity: number;
  readonly worth: number;
}

/** Adds a cost to a receipt, split over its lines by their worth: what is still here takes its share, the rest is a difference. */
export function chargeLate(work: Work, receiptId: number, input: BodyOf<typeof api.stores.addLateCost>): LateCosts {
  const receipt = orNotFound(
    work.row<{ number: string; reversed: number }>('select number, reversed from receipt where id = ?', receiptId),
    'receipt',
  );
  if (receipt.reversed === 1) throw new Refusal('alreadyReversed', `${receipt.number} has been taken back: nothing can be added to it.`);
  const amount = atField('amount', () => parseAmount(input.amount, 'the amount'));
  if (amount === 0) throw new Refusal('nothingChanges', 'A cost of 0 changes nothing.', { field: 'amount' });
  const moves = work.rows<ReceivedMove>(
    `select id, item_id as item, to_id as warehouse, quantity, value + variance as worth from stock_move
     where document_kind = 'receipt' and document_id = ? and from_kind = 'supplier' and reversal_of is null order by id`,
    receiptId,
  );
  if (moves.length === 0) throw new Refusal('nothingStocked', `${receipt.number} brought nothing into stock: book the cost with its invoice.`);
  const weights = moves.some((move) => move.worth > 0) ? moves.map((move) => move.worth) : moves.map((move) => move.quantity);
  const parts = splitByWeights(amount, weights);
  bookLate(
    work,
    receiptId,
    receipt.number,
    input,
    amount,
    moves.map((move, index) => ({ move, part: parts[index] ?? 0 })),
    null,
  );
  return lateCostsOf(work, receiptId);
}

function bookLate(
  work: Work,
  receiptId: number,
  receipt: string,
  input: { what: LateCosts[number]['what']; date?: string | undefined; note: string },
  amount: number,
  parts: readonly { readonly move: ReceivedMove; readonly part: number }[],
  reversalOf: number | null,
): void {
  const date = input.date ?? work.today;
  assertPostingDate(work, date);
  const shares = parts.map(({ move, part }) => {
    const facts = accountsOfItem(work, move.item);
    const value = addLateCost(work, facts, move, asAmount(part), { of: move.id, quantity: asQuantity(move.quantity) }, date);
    return { move, part, value, inventoryAccount: facts.inventoryAccount };
  });
  const number = work.nextNumber('LC');
  const { id } = work.run(
    'insert into late_cost (number, date, receipt_id, what, amount, in_stock, note, reversal_of) values (?, ?, ?, ?, ?, ?, ?, ?)',
    number,
    date,
    receiptId,
    input.what,
    amount,
    shares.reduce((sum, share) => sum + share.value, 0),
    input.note,
    reversalOf,
  );
  for (const { move, part, value } of shares)
    work.run('insert into late_cost_share (late_cost_id, move_id, amount, value) values (?, ?, ?, ?)', id, move.id, part, value);
  postEvent(work, { kind: 'lateCost', id, number }, date, { kind: 'lateCost', stock: shares, amount: asAmount(amount) });
  work.link('receipt', receiptId, 'lateCost', id);
  work.record('lateCost', id, `added ${writeAmount(amount)} to ${receipt}`);
  for (const { move } of shares) work.touch('stock', move.item, number);
}

/** Takes a late cost back: the same amounts again with the other sign, split by what is still here now. */
export function reverseLateCost(work: Work, id: number): LateCosts {
  const cost = orNotFound(
    work.row<{ number: string; receiptId: number; receipt: string; what: LateCosts[number]['what']; amount: number; reversed: number }>(
      `select c.number, c.receipt_id as receiptId, r.number as receipt, c.what, c.amount, c.reversal_of is not null or exists (select 1 from late_cost x where x.reversal_of = c.id) as reversed
       from late_cost c join receipt r on r.id = c.receipt_id where c.id = ?`,
      id,
    ),
    'late cost',
  );
  if (cost.reversed === 1) throw new Refusal('alreadyReversed', `${cost.number} has been taken back already.`);
  const parts = work
    .rows<ReceivedMove & { amount: number }>(
      `select m.id, m.item_id as item, m.to_id as warehouse, m.quantity, m.value as worth, s.amount from late_cost_share s join stock_move m on m.id = s.move_id where s.late_cost_id = ? order by s.id`,
      id,
    )
    .map((move) => ({ move, part: -move.amount }));
  bookLate(work, cost.receiptId, cost.receipt, { what: cost.what, note: `${cost.number} taken back` }, -cost.amount, parts, id);
  return lateCostsOf(work, cost.receiptId);
}

/** Sets a new standard cost; what is in stock is worth that from now on, with an entry over the difference. */
export function setStandardCost(
  work: Work,
  item: number,
  input: BodyOf<typeof api.stores.setStandardCost>,
): AnswerOf<typeof api.stores.setStandardCost> {
  assertMay(work.actor, 'catalogue.edit');
  const facts = accountsOfItem(work, item);
  if (facts.costing !== 'standard') throw new Refusal('noStandard', `${facts.code} has no standard cost: it is costed by what its receipts cost.`);
  if (parsePrice(input.seen, 'the cost seen') !== facts.standardCost)
    throw new Refusal(
      'staleVersion',
      `The standard cost of ${facts.code} is ${writePrice(facts.standardCost)} meanwhile: look again and repeat what you wanted.`,
      {
        current: writePrice(facts.standardCost),
      },
    );
  const fresh = atField('unitCost', () => parseAskedPrice(input.unitCost, 'the standard cost'));
  if (fresh === facts.standardCost) throw new Refusal('nothingChanges', `${writePrice(fresh)} is the standard cost already.`, { field: 'unitCost' });
  const changes = revaluePools(work, facts, item, fresh, work.today);
  const value = changes.reduce((sum, change) => sum + change.value, 0);
  const number = work.nextNumber('RV');
  const { id } = work.run(
    'insert into revaluation (number, date, item_id, before, after, value, note) values (?, ?, ?, ?, ?, ?, ?)',
    number,
    work.today,
    item,
    facts.standardCost,
    fresh,
    value,
    input.note,
  );
  work.run('update item set standard_cost = ?, version = version + 1 where id = ?', fresh, item);
  postEvent(work, { kind: 'revaluation', id, number }, work.today, {
    kind: 'revaluation',
    stock: changes.map((change) => ({ inventoryAccount: facts.inventoryAccount, value: change.value })),
  });
  work.record('item', item, `set the standard cost of ${facts.code}`, [
    { field: 'standardCost', from: writePrice(facts.standardCost), to: writePrice(asPrice(fresh)) },
  ]);
  work.record('revaluation', id, `${number}: ${facts.code} at ${writePrice(fresh)}`);
  work.touch('stock', item, number);
  return { number, change: writeAmount(value), unitCost: writePrice(fresh) };
}
