/** What of a transfer has arrived, and what was lost on the way. */
import { eq } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import type { BodyOf, TransferView } from '@terrace/contract';
import { Refusal, asQuantity, parseQuantity, writeQuantity, type Quantity } from '@terrace/core';
import { binOf, itemFacts } from '../catalogue';
import { plus } from '../platform/expressions';
import { atField } from '../platform/fields';
import { command } from '../platform/query';
import { changeRow, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { adjustmentEvent, reasonOf } from './adjustments';
import { transfer, transferLine, transferPiece } from './document-schema';
import { postMoves, type MoveRequest } from './post-moves';
import { piecesNamed } from './tracking';
import { lineNamed, linesOf, piecesOf, transferOf, transferView, type LineRecord, type PieceRecord } from './transfer-view';

const loseMore = command(
  ($: { id: number; left: Quantity }) => (db) =>
    db
      .update(transferLine)
      .set({ lost: plus(transferLine.lost, $.left) })
      .where(eq(transferLine.id, $.id)),
);

/**
 * Receives what arrived. What is missing stays in transit; with a reason it is given up and its value goes to the
 * reason's account. More than was shipped is refused.
 */
export function receiveTransfer(work: Work, id: number, input: BodyOf<typeof api.stores.receiveTransfer>): TransferView {
  const kept = transferOf(work, id);
  assertVersion(work, 'transfer', kept, input.version, kept.number);
  if (kept.state !== 'shipped' && kept.state !== 'partReceived')
    throw new Refusal('wrongState', `${kept.number} is ${kept.state}: only what is on its way can be received.`);
  const date = input.date ?? work.today;
  const dock = binOf(work, kept.toId, undefined);
  const bin = binOf(work, kept.toId, input.binId);
  const lines = linesOf(work, id);
  const key = (line: LineRecord, piece: PieceRecord) => ({ item: line.itemId, warehouse: kept.toId, lot: piece.lot, serial: piece.serial });
  const document = { kind: 'transfer', id, number: kept.number } as const;
  const arrive = (line: LineRecord, piece: PieceRecord, quantity: number): MoveRequest => {
    setRow(work, transferPiece, piece.id, { arrived: asQuantity(piece.arrived + quantity) });
    return {
      item: line.itemId,
      quantity: asQuantity(quantity),
      from: { kind: 'stock', key: { ...key(line, piece), bin: dock, state: 'inTransit' } },
      to: { kind: 'stock', key: { ...key(line, piece), bin, state: 'available' } },
    };
  };
  const moves = input.lines.flatMap(({ lineId, quantity: text, pieces }, index): MoveRequest[] => {
    const line = lineNamed(kept, lines, input.lines, index, lineId);
    return atField(`lines.${index}.quantity`, () => {
      const { code, decimals } = itemFacts(work, line.itemId);
      const quantity = parseQuantity(text, decimals, `the quantity of ${code}`);
      const open = line.shipped - line.received - line.lost;
      if (quantity < 0 || quantity > open)
        throw new Refusal(
          'tooMuch',
          `${text} of ${code} can't have arrived: ${writeQuantity(open)} are on the way. Receive these, and adjust for what was found besides.`,
          {
            most: writeQuantity(open),
          },
        );
      if (quantity === 0) return [];
      setRow(work, transferLine, line.id, { received: asQuantity(line.received + quantity) });
      return arriving(work, line, quantity, pieces).map(({ piece, part }) => arrive(line, piece, part));
    });
  });
  if (moves.length > 0) postMoves(work, { document, date, moves, entry: { event: () => ({ kind: 'transfer' }) } });
  if (input.reason !== undefined) {
    const reason = reasonOf(work, input.reason);
    if (reason.noteNeeded && input.note === '')
      throw new Refusal('noteNeeded', `"${reason.name}" needs a note: say what happened.`, { field: 'note' });
    const lost = linesOf(work, id).flatMap((line) =>
      piecesOf(work, line.id)
        .filter((piece) => piece.quantity > piece.arrived)
        .map((piece): MoveRequest => {
          const left = asQuantity(piece.quantity - piece.arrived);
          setRow(work, transferPiece, piece.id, { arrived: piece.quantity });
          loseMore.run(work, { id: line.id, left });
          return {
            item: line.itemId,
            quantity: left,
            from: { kind: 'stock', key: { ...key(line, piece), bin: dock, state: 'inTransit' } },
            to: { kind: 'adjustment', id },
          };
        }),
    );
    if (lost.length > 0)
      postMoves(work, { document, date, moves: lost, note: input.note, entry: { event: (valued) => adjustmentEvent(valued, reason.account) } });
  } else if (moves.length === 0) {
    throw new Refusal('nothingArrived', 'Nothing has arrived: say how much, or give a reason to give it up.', { field: 'lines' });
  }
  const left = linesOf(work, id).some((line) => line.shipped > line.received + line.lost);
  changeRow(work, transfer, id, { state: left ? 'partReceived' : 'received' });
  work.record('transfer', id, `received ${left ? 'part of ' : ''}${kept.number}`);
  return transferView(work, id);
}

/** Which of the pieces on the way have arrived: those named, else in their order. */
function arriving(
  work: Work,
  line: LineRecord,
  quantity: Quantity,
  pieces: Parameters<typeof piecesNamed>[3] | undefined,
): { readonly piece: PieceRecord; readonly part: number }[] {
  const moving = piecesOf(work, line.id).filter((piece) => piece.quantity > piece.arrived);
  const wanted = pieces && pieces.length > 0 ? piecesNamed(work, line.itemId, quantity, pieces) : null;
  const fill = (candidates: readonly PieceRecord[], most: number, name: string): { piece: PieceRecord; part: number }[] => {
    let left = most;
    const parts = candidates.flatMap((piece) => {
      const part = Math.min(left, piece.quantity - piece.arrived);
      left -= part;
      return part > 0 ? [{ piece, part }] : [];
    });
    if (left > 0)
      throw new Refusal('notOnTheWay', `${name} is not on the way in this quantity: ${writeQuantity(most - left)} of it are.`, { field: 'pieces' });
    return parts;
  };
  if (!wanted) return fill(moving, quantity, itemFacts(work, line.itemId).code);
  return wanted.flatMap((named) =>
    fill(
      moving.filter((piece) => piece.lot === named.lot && piece.serial === named.serial),
      named.quantity,
      named.serial === '' ? `Lot ${named.lot}` : named.serial,
    ),
  );
}
