/** Finishing as planned: components leave stock by calculation, the made item comes in with what they cost. */
import { eq } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import { type BodyOf, type PieceInput, type ProductionView } from '@terrace/contract';
import { Refusal, applyChange, asAmount, asQuantity, parsePositiveQuantity, splitByWeights, writeQuantity, type Quantity } from '@terrace/core';
import { binOf, itemFacts } from '../catalogue';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { addRow, changeRow, fetching, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { piecesComing, postMoves, reserveFree, reverseMoves, stockOf, reservedFor, takeForAll, type MoveRequest } from '../stores';
import { bookPutBack, bookTaken, componentsOf, productionOf, productionView, toTake, type ComponentRecord, type ProductionRecord } from './orders';
import { toMakeOf } from './progress';
import { completion, completionTake, productionOrder } from './schema';

/** Finishes a quantity. Refuses more than is open, and `componentsShort` where components are not there, naming all of them. */
export function finishProduction(work: Work, id: number, input: BodyOf<typeof api.production.finishProduction>): ProductionView {
  const order = productionOf(work, id);
  assertVersion(work, 'productionOrder', order, input.version, order.number);
  if (order.state !== 'released' && order.state !== 'running') {
    throw new Refusal('wrongState', `${order.number} is ${order.state}: output can be reported once it is released and until it is finished.`);
  }
  const item = itemFacts(work, order.itemId);
  const quantity = atField('quantity', () => parsePositiveQuantity(input.quantity, item.decimals, `the quantity of ${item.code}`));
  const open = toMakeOf(order);
  if (quantity > open)
    throw new Refusal(
      'tooMuch',
      `${input.quantity} ${item.unit} are more than the ${writeQuantity(open)} that are open on ${order.number}: finish ${writeQuantity(open)}, or enter an order for the rest.`,
      { field: 'quantity' },
    );
  const takes = componentsOf(work, id)
    .map((component) => ({ component, quantity: toTake(work, component, quantity, quantity === open) }))
    .filter((take) => take.quantity > 0);
  assertThere(work, order, takes);
  const date = input.date ?? work.today;
  const number = work.nextNumber('FIN');
  const completionId = addRow(work, completion, { number, orderId: id, date, quantity, cost: asAmount(0) });
  const document = { kind: 'completion', id: completionId, number } as const;
  const issues = issuesOf(work, order, takes, date, input.taken ?? []);
  const issued = postMoves(work, {
    document,
    date,
    moves: issues,
    entry: {
      event: (moves) => ({ kind: 'issueToProduction', stock: moves.map((move) => ({ inventoryAccount: move.inventoryAccount, value: move.worth })) }),
    },
  });
  for (const take of takes) {
    bookTaken(work, take.component, take.quantity);
    addRow(work, completionTake, { completionId, componentId: take.component.id, quantity: take.quantity });
  }
  const cost = asAmount(issued.moves.reduce((sum, move) => sum + move.worth, 0));
  const bin = binOf(work, order.warehouseId, input.binId);
  const made = piecesComing(work, item.id, quantity, input.pieces, { date, lotName: order.number });
  const worth = splitByWeights(
    cost,
    made.map((piece) => piece.quantity),
  );
  postMoves(work, {
    document,
    date,
    moves: made.map((piece, index) => ({
      item: item.id,
      quantity: piece.quantity,
      from: { kind: 'production', id },
      to: { kind: 'stock', key: { item: item.id, warehouse: order.warehouseId, bin, lot: piece.lot, serial: piece.serial, state: 'available' } },
      value: asAmount(worth[index] ?? 0),
    })),
    entry: {
      event: (moves) => ({ kind: 'completion', stock: moves.map((move) => ({ inventoryAccount: move.inventoryAccount, value: move.worth })) }),
    },
  });
  setRow(work, completion, completionId, { cost });
  changeRow(work, productionOrder, id, { finished: asQuantity(order.finished + quantity), state: quantity === open ? 'finished' : 'running' });
  work.link('productionOrder', id, 'completion', completionId);
  work.record('productionOrder', id, `finished ${writeQuantity(quantity)} of ${order.number}`);
  work.notify('finished', `${writeQuantity(quantity)} ${item.unit} of ${item.code} finished on ${order.number}`, {
    kind: 'productionOrder',
    id,
  });
  return productionView(work, id);
}

interface Take {
  readonly component: ComponentRecord;
  readonly quantity: Quantity;
}

/** Components are there in sum: an item that is a component twice is wanted once, as much as both. */
function assertThere(work: Work, order: ProductionRecord, takes: readonly Take[]): void {
  const items = new Map<number, { wanted: number; held: number }>();
  for (const { component, quantity } of takes) {
    const { wanted, held } = items.get(component.itemId) ?? { wanted: 0, held: 0 };
    items.set(component.itemId, { wanted: wanted + quantity, held: held + reservedFor(work, 'productionOrder', component.id) });
  }
  const short = [...items].flatMap(([itemId, { wanted, held }]) => {
    const item = itemFacts(work, itemId);
    if (item.kind !== 'stocked') return [];
    const reachable = held + stockOf(work, itemId, order.warehouseId, 'use').free;
    return wanted > reachable
      ? [
          {
            code: item.code,
            unit: item.unit,
            wanted: writeQuantity(wanted),
            there: writeQuantity(reachable),
            short: writeQuantity(wanted - reachable),
          },
        ]
      : [];
  });
  if (short.length === 0) return;
  const words = short.map((each) => `${each.short} ${each.unit} of ${each.code} (${each.there} of ${each.wanted} there)`);
  throw new Refusal(
    'componentsShort',
    `It can't be finished without its components: ${words.join(', ')} are missing. Receive or make them first, or finish a smaller quantity.`,
    { short, field: 'quantity' },
  );
}

type Named = readonly { readonly componentId: number; readonly pieces: readonly PieceInput[] }[];

/** What leaves stock for the order, all components worked out together. */
function issuesOf(work: Work, order: ProductionRecord, takes: readonly Take[], date: string, named: Named): MoveRequest[] {
  const stocked = takes.flatMap((take) => (itemFacts(work, take.component.itemId).kind === 'stocked' ? [take] : []));
  const parts = takeForAll(
    work,
    stocked.map(({ component, quantity }) => {
      const at = named.findIndex((each) => each.componentId === component.id);
      return {
        item: component.itemId,
        warehouse: order.warehouseId,
        quantity,
        pieces: named[at]?.pieces,
        purpose: 'use' as const,
        date,
        at: (act) => atField(at < 0 ? 'quantity' : `taken.${at}`, act),
      };
    }),
  );
  return stocked.flatMap(({ component }, at) =>
    (parts[at] ?? []).map((take): MoveRequest => ({
      item: component.itemId,
      quantity: take.quantity,
      from: { kind: 'stock', key: take.key },
      to: { kind: 'production', id: order.id },
      holder: { kind: 'productionOrder', id: component.id },
    })),
  );
}

const completionOf = fetching(completion, 'completion');
const takesOf = query(
  ($: { completionId: number }) => (db) =>
    db
      .select({ componentId: completionTake.componentId, quantity: completionTake.quantity })
      .from(completionTake)
      .where(eq(completionTake.completionId, $.completionId)),
);

/** Takes a completion back: the made item leaves, its components return and are reserved for the order again. */
export function reverseCompletion(work: Work, completionId: number): ProductionView {
  const report = completionOf(work, completionId);
  if (report.reversed) throw new Refusal('alreadyReversed', `${report.number} has been taken back already.`);
  const order = productionOf(work, report.orderId);
  if (order.finished < report.quantity) applyChange(order.finished, asQuantity(-report.quantity), order.number);
  reverseMoves(work, { kind: 'completion', id: completionId, number: report.number }, work.today);
  const left = asQuantity(order.finished - report.quantity);
  changeRow(work, productionOrder, order.id, { finished: left, state: left > 0 ? 'running' : 'released' });
  for (const take of takesOf.all(work, { completionId })) bookPutBack(work, take.componentId, take.quantity);
  for (const component of componentsOf(work, order.id)) {
    reserveFree(
      work,
      component.itemId,
      order.warehouseId,
      { kind: 'productionOrder', id: component.id, documentId: order.id, documentNumber: order.number },
      asQuantity(component.needed - component.issued),
    );
  }
  setRow(work, completion, completionId, { reversed: true });
  work.record('productionOrder', order.id, `took ${report.number} back`);
  return productionView(work, order.id);
}
