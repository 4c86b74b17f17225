/** Moving stock between the bins of a warehouse, and from one state to another, for a reason. */
import type { api } from '@terrace/contract';
import type { BodyOf } from '@terrace/contract';
import { Refusal, parsePositiveQuantity, type StockKey } from '@terrace/core';
import { binById, itemFacts } from '../catalogue';
import { atField, atRow } from '../platform/fields';
import { addRow, fetching, setRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { postMoves, reverseMoves, type MoveRequest } from './post-moves';
import { piecesNamed, trackingOf } from './tracking';
import { relocation } from './document-schema';

type Input = BodyOf<typeof api.stores.relocate>;
type Line = Input['lines'][number];
interface Done {
  readonly id: number;
  readonly number: string;
}

/** Moves stock at once. Refuses a change of state without a reason, and what is reserved. */
export function relocate(work: Work, input: Input): Done {
  const date = input.date ?? work.today;
  input.lines.forEach((line, index) => {
    if ((line.toState ?? line.state) !== line.state && input.reason === '')
      throw new Refusal('reasonNeeded', 'Say why the state changes: who meets this stock wants to know.', { field: 'reason', line: index });
  });
  const moves = input.lines.flatMap((line, index) => atRow(`lines.${index}`, () => movesOf(work, line)));
  const number = work.nextNumber('MV');
  const id = addRow(work, relocation, { number, date, reason: input.reason, note: input.note });
  postMoves(work, {
    document: { kind: 'relocation', id, number },
    date,
    moves,
    note: [input.reason, input.note].filter((text) => text !== '').join(': '),
    entry: { event: () => ({ kind: 'transfer' }) },
  });
  work.record('relocation', id, `moved stock${input.reason === '' ? '' : `: ${input.reason}`}`);
  return { id, number };
}

function movesOf(work: Work, line: Line): MoveRequest[] {
  const item = itemFacts(work, line.itemId);
  const from = binById(work, line.binId);
  const to = line.toBinId === undefined ? from : binById(work, line.toBinId);
  if (from.warehouseId !== to.warehouseId)
    throw new Refusal('otherWarehouse', 'Both bins must be in one warehouse: to another one, make a transfer.', { field: 'toBinId' });
  if (line.state === 'inTransit' || line.toState === 'inTransit')
    throw new Refusal('wrongState', 'What is in transit moves with its transfer.', { field: 'toState' });
  const quantity = atField('quantity', () => parsePositiveQuantity(line.quantity, item.decimals, `the quantity of ${item.code}`));
  const pieces =
    trackingOf(work, item.id).tracking === 'none' ? [{ lot: '', serial: '', quantity }] : piecesNamed(work, item.id, quantity, line.pieces ?? []);
  return pieces.map((piece) => {
    const key = (bin: number, state: StockKey['state']): StockKey => ({
      item: item.id,
      warehouse: from.warehouseId,
      bin,
      lot: piece.lot,
      serial: piece.serial,
      state,
    });
    return {
      item: item.id,
      quantity: piece.quantity,
      from: { kind: 'stock', key: key(line.binId, line.state) },
      to: { kind: 'stock', key: key(line.toBinId ?? line.binId, line.toState ?? line.state) },
    };
  });
}

const relocationOf = fetching(relocation, 'move');

export function reverseRelocation(work: Work, id: number): Done {
  const move = relocationOf(work, id);
  if (move.reversed) throw new Refusal('alreadyReversed', `${move.number} has been taken back already.`);
  reverseMoves(work, { kind: 'relocation', id, number: move.number }, work.today);
  setRow(work, relocation, id, { reversed: true });
  work.record('relocation', id, `took ${move.number} back`);
  return { id, number: move.number };
}
