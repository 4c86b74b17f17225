/** Transfers between warehouses: requested, shipped, received in part or in full, with what was lost on the way. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type ListQuery, type TransferView } from '@terrace/contract';
import { Refusal, asQuantity, parsePositiveQuantity, parseQuantity, writeQuantity, type Quantity } from '@terrace/core';
import { binOf, itemFacts, usableItem, warehouseOf } from '../catalogue';
import { asNumber, asQuantityText, asText, listPage, type ListDefinition } from '../platform/list';
import { assertVersion, atField, orNotFound, type Work } from '../platform/work';
import { adjustmentEvent, reasonOf } from './adjust';
import type { StockEvent } from './events';
import { postMoves, type MoveRequest } from './post-moves';
import { dropReservation, reserveFree, reservedFor } from './reserve';
import { binsHolding, takeFromBins, takeNamed } from './take';
import { piecesNamed, trackingOf } from './tracked';

const ON_THE_WAY = 'l.shipped - l.received - l.lost';

const transfers: ListDefinition = {
  columns: {
    id: asNumber('t.id'),
    number: asText('t.number'),
    from: asText('f.code'),
    to: asText('w.code'),
    state: asText('t.state'),
    shipDate: asText('t.ship_date'),
    dueDate: asText('t.due_date'),
    carrier: asText('t.carrier'),
    lines: asNumber('(select count(*) from transfer_line l where l.transfer_id = t.id)'),
    inTransit: asQuantityText(`coalesce((select sum(${ON_THE_WAY}) from transfer_line l where l.transfer_id = t.id), 0)`),
  },
  from: 'transfer t join warehouse f on f.id = t.from_id join warehouse w on w.id = t.to_id',
  countFrom: 'transfer t',
  find: ['t.number', 't.carrier', 't.note', 'f.code', 'w.code'],
  order: 't.id desc',
  tie: 't.id desc',
};

export function listTransfers(work: Work, query: ListQuery): AnswerOf<typeof api.stores.listTransfers> {
  return listPage(work, transfers, query);
}

interface TransferRecord {
  readonly id: number;
  readonly number: string;
  readonly fromId: number;
  readonly toId: number;
  readonly date: string;
  readonly shipDate: string;
  readonly dueDate: string;
  readonly carrier: string;
  readonly note: string;
  readonly state: TransferView['state'];
  readonly version: number;
}

interface LineRecord {
  readonly id: number;
  readonly position: number;
  readonly itemId: number;
  readonly quantity: Quantity;
  readonly shipped: Quantity;
  readonly received: Quantity;
  readonly lost: Quantity;
}

interface PieceRecord {
  readonly id: number;
  readonly lot: string;
  readonly serial: string;
  readonly quantity: number;
  readonly arrived: number;
}

function transferOf(work: Work, id: number): TransferRecord {
  return orNotFound(
    work.row<TransferRecord>(
      'select id, number, from_id as fromId, to_id as toId, date, ship_date as shipDate, due_date as dueDate, carrier, note, state, version from transfer where id = ?',
      id,
    ),
    'transfer',
  );
}

function linesOf(work: Work, id: number): LineRecord[] {
  return work.rows(
    'select id, position, item_id as itemId, quantity, shipped, received, lost from transfer_line where transfer_id = ? order by position',
    id,
  );
}

function piecesOf(work: Work, lineId: number): PieceRecord[] {
  return work.rows('select id, lot, serial, quantity, arrived from transfer_piece where line_id = ? order by id', lineId);
}

export function transferView(work: Work, id: number): TransferView {
  const transfer = transferOf(work, id);
  const lines = linesOf(work, id);
  return {
    ...transfer,
    from: warehouseOf(work, transfer.fromId).code,
    to: warehouseOf(work, transfer.toId).code,
    inTransit: writeQuantity(lines.reduce((sum, line) => sum + line.shipped - line.received - line.lost, 0)),
    lines: lines.map((line) => {
      const item = itemFacts(work, line.itemId);
      const { tracking } = trackingOf(work, line.itemId);
      const held = transfer.state === 'requested' ? binsHolding(work, line.itemId, transfer.fromId) : [];
      return {
        id: line.id,
        position: line.position,
        itemId: line.itemId,
        code: item.code,
        description: item.description,
        unit: item.unit,
        decimals: item.decimals,
        tracking,
        quantity: writeQuantity(line.quantity),
        reserved: writeQuantity(reservedFor(work, 'transfer', line.id)),
        shipped: writeQuantity(line.shipped),
        received: writeQuantity(line.received),
        lost: writeQuantity(line.lost),
        onTheWay: writeQuantity(line.shipped - line.received - line.lost),
        bin: [...new Set(held.map((each) => each.bin))].slice(0, 3).join(', '),
        pieces:
          transfer.state === 'requested'
            ? []
            : piecesOf(work, line.id).flatMap((piece) =>
                piece.quantity > piece.arrived
                  ? [{ lot: piece.lot, serial: piece.serial, quantity: writeQuantity(piece.quantity - piece.arrived), bin: '', expiry: null }]
                  : [],
              ),
      };
    }),
  };
}

/** Asks for stock of another warehouse; what is free there is reserved. */
export function requestTransfer(work: Work, input: BodyOf<typeof api.stores.requestTransfer>): TransferView {
  const from = atField('fromId', () => warehouseOf(work, input.fromId));
  const to = atField('toId', () => warehouseOf(work, input.toId));
  if (input.fromId === input.toId)
    throw new Refusal('sameWarehouse', `A transfer from ${from.code} to itself moves nothing: within a warehouse, move between bins.`, {
      field: 'toId',
    });
  if (input.dueDate < input.shipDate)
    throw new Refusal('badDate', `It can't arrive on ${input.dueDate}, before it ships on ${input.shipDate}.`, { field: 'dueDate' });
  const number = work.nextNumber('TR');
  const { id } = work.run(
    "insert into transfer (number, from_id, to_id, date, ship_date, due_date, carrier, note, state) values (?, ?, ?, ?, ?, ?, ?, ?, 'requested')",
    number,
    input.fromId,
    input.toId,
    work.today,
    input.shipDate,
    input.dueDate,
    input.carrier,
    input.note,
  );
  input.lines.forEach((line, index) => {
    const item = atField(`lines.${index}.itemId`, () => usableItem(work, line.itemId));
    if (item.kind !== 'stocked')
      throw new Refusal('notStocked', `${item.code} is not kept in stock, so none of it can be transferred.`, { field: `lines.${index}.itemId` });
    const quantity = atField(`lines.${index}.quantity`, () => parsePositiveQuantity(line.quantity, item.decimals, `the quantity of ${item.code}`));
    const { id: lineId } = work.run(
      'insert into transfer_line (transfer_id, position, item_id, quantity) values (?, ?, ?, ?)',
      id,
      index + 1,
      item.id,
      quantity,
    );
    reserveFree(work, item.id, input.fromId, { kind: 'transfer', id: lineId, documentId: id, documentNumber: number }, quantity);
  });
  work.record('transfer', id, `asked for ${number} from ${from.code} to ${to.code}`);
  work.notify(['storekeeper'], `${number}: ${to.code} asks for stock of ${from.code}`, { kind: 'transfer', id });
  return transferView(work, id);
}

type Shipping = BodyOf<typeof api.stores.shipTransfer>;

/**
 * Ships what is given, or what is reserved: it leaves its bins and is in transit to the dock it goes to. What is not
 * shipped is given up.
 */
export function shipTransfer(work: Work, id: number, input: Shipping): TransferView {
  const transfer = transferOf(work, id);
  assertVersion(work, 'transfer', transfer, input.version, transfer.number);
  if (transfer.state !== 'requested') throw new Refusal('wrongState', `${transfer.number} is ${transfer.state}: it has left already.`);
  const date = input.date ?? work.today;
  const dock = binOf(work, transfer.toId, undefined);
  const lines = linesOf(work, id);
  const given =
    input.lines ?? lines.map((line) => ({ lineId: line.id, quantity: writeQuantity(reservedFor(work, 'transfer', line.id)), pieces: undefined }));
  const moves = given.flatMap(({ lineId, quantity: text, pieces }, index): MoveRequest[] => {
    const line = lines.find((each) => each.id === lineId);
    if (!line) throw new Refusal('unknownLine', `This line does not belong to ${transfer.number}.`, { field: `lines.${index}` });
    return atField(`lines.${index}.quantity`, () => {
      const { code, decimals } = itemFacts(work, line.itemId);
      const quantity = parseQuantity(text, decimals, `the quantity of ${code}`);
      if (quantity < 0 || quantity > line.quantity)
        throw new Refusal('tooMuch', `${text} of ${code} can't ship: ${writeQuantity(line.quantity)} were asked for.`, {
          most: writeQuantity(line.quantity),
        });
      if (quantity === 0) return [];
      const takes =
        pieces && pieces.length > 0
          ? takeNamed(work, line.itemId, transfer.fromId, quantity, pieces, 'any', date)
          : takeFromBins(work, line.itemId, transfer.fromId, quantity, 'any', date);
      for (const take of takes)
        work.run(
          'insert into transfer_piece (line_id, lot, serial, quantity) values (?, ?, ?, ?)',
          line.id,
          take.key.lot,
          take.key.serial,
          take.quantity,
        );
      work.run('update transfer_line set shipped = ? where id = ?', quantity, line.id);
      return takes.map((take) => ({
        item: line.itemId,
        quantity: take.quantity,
        from: { kind: 'stock', key: take.key },
        to: { kind: 'stock', key: { ...take.key, warehouse: transfer.toId, bin: dock, state: 'inTransit' } },
        holder: { kind: 'transfer', id: line.id },
      }));
    });
  });
  if (moves.length === 0) throw new Refusal('nothingToShip', `Nothing of ${transfer.number} would ship: cancel it instead.`, { field: 'lines' });
  postMoves(work, { document: { kind: 'transfer', id, number: transfer.number }, date, moves, entry: { event: () => ({ kind: 'transfer' }) } });
  for (const line of lines) dropReservation(work, 'transfer', line.id);
  work.run("update transfer set state = 'shipped', ship_date = ?, version = version + 1 where id = ?", date, id);
  work.record('transfer', id, `shipped ${transfer.number}`);
  work.notify(['storekeeper', 'manager'], `${transfer.number} is on its way to ${warehouseOf(work, transfer.toId).code}`, { kind: 'transfer', id });
  return transferView(work, id);
}

/**
 * Receives what arrived. What is missing stays in transit; with a reason it is given up and its value goes to the
 * reason's account. More than was shipped is refused.
 */
export function receiveTransfer(work: Work, id: number, input: BodyOf<typeof api.stores.receiveTransfer>): TransferView {
  const transfer = transferOf(work, id);
  assertVersion(work, 'transfer', transfer, input.version, transfer.number);
  if (transfer.state !== 'shipped' && transfer.state !== 'partReceived')
    throw new Refusal('wrongState', `${transfer.number} is ${transfer.state}: only what is on its way can be received.`);
  const date = input.date ?? work.today;
  const dock = binOf(work, transfer.toId, undefined);
  const bin = binOf(work, transfer.toId, input.binId);
  const lines = linesOf(work, id);
  const key = (line: LineRecord, piece: PieceRecord) => ({ item: line.itemId, warehouse: transfer.toId, lot: piece.lot, serial: piece.serial });
  const document = { kind: 'transfer', id, number: transfer.number } as const;
  const arrive = (line: LineRecord, piece: PieceRecord, quantity: number): MoveRequest => {
    work.run('update transfer_piece set arrived = arrived + ? where id = ?', quantity, piece.id);
    return {
      item: line.itemId,
      quantity: asQuantity(quantity),
      from: { kind: 'stock', key: { ...key(line, piece), bin: dock, state: 'inTransit' } },
      to: { kind: 'stock', key: { ...key(line, piece), bin, state: 'available' } },
    };
  };
  const moves = input.lines.flatMap(({ lineId, quantity: text, pieces }, index): MoveRequest[] => {
    const line = lines.find((each) => each.id === lineId);
    if (!line) throw new Refusal('unknownLine', `This line does not belong to ${transfer.number}.`, { field: `lines.${index}` });
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
      work.run('update transfer_line set received = received + ? where id = ?', quantity, line.id);
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
          work.run('update transfer_piece set arrived = quantity where id = ?', piece.id);
          work.run('update transfer_line set lost = lost + ? where id = ?', left, line.id);
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
  work.run('update transfer set state = ?, version = version + 1 where id = ?', left ? 'partReceived' : 'received', id);
  work.record('transfer', id, `received ${left ? 'part of ' : ''}${transfer.number}`);
  return transferView(work, id);
}

/** Which of the pieces on the way have arrived: those named, else in their order. */
function arriving(
  work: Work,
  line: LineRecord,
  quantity: Quantity,
  pieces: Parameters<typeof piecesNamed>[3] | undefined,
): { readonly piece: PieceRecord; readonly part: number }[] {
  const onTheWay = piecesOf(work, line.id).filter((piece) => piece.quantity > piece.arrived);
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
  if (!wanted) return fill(onTheWay, quantity, itemFacts(work, line.itemId).code);
  return wanted.flatMap((named) =>
    fill(
      onTheWay.filter((piece) => piece.lot === named.lot && piece.serial === named.serial),
      named.quantity,
      named.serial === '' ? `Lot ${named.lot}` : named.serial,
    ),
  );
}

/** Cancels a transfer that has not left; what was reserved is free again. */
export function cancelTransfer(work: Work, id: number, version: number): TransferView {
  const transfer = transferOf(work, id);
  assertVersion(work, 'transfer', transfer, version, transfer.number);
  if (transfer.state !== 'requested')
    throw new Refusal('wrongState', `${transfer.number} is ${transfer.state}: it has left, so receive it, or give up what was lost.`);
  for (const line of linesOf(work, id)) {
    dropReservation(work, 'transfer', line.id);
    work.touch('stock', line.itemId, transfer.number);
  }
  work.run("update transfer set state = 'cancelled', version = version + 1 where id = ?", id);
  work.record('transfer', id, `cancelled ${transfer.number}`);
  return transferView(work, id);
}

/** What transfers take from a warehouse and bring to it. */
export function transferEvents(work: Work, item: number, warehouse: number): StockEvent[] {
  return work
    .rows<{ id: number; lineId: number; number: string; state: string; fromId: number; shipDate: string; dueDate: string; open: number }>(
      `select t.id, l.id as lineId, t.number, t.state, t.from_id as fromId, t.ship_date as shipDate, t.due_date as dueDate,
         case t.state when 'requested' then l.quantity else ${ON_THE_WAY} end as open
       from transfer_line l join transfer t on t.id = l.transfer_id
       where l.item_id = ? and (t.to_id = ? or t.from_id = ?) and t.state in ('requested', 'shipped', 'partReceived')`,
      item,
      warehouse,
      warehouse,
    )
    .flatMap((row): StockEvent[] => {
      if (row.open === 0) return [];
      const event = { quantity: asQuantity(row.open), document: row.number, firm: true, link: { kind: 'transfer' as const, id: row.id } };
      if (row.fromId !== warehouse) return [{ ...event, date: row.dueDate, kind: 'supply', holder: null }];
      return row.state === 'requested' ? [{ ...event, date: row.shipDate, kind: 'demand', holder: { kind: 'transfer', id: row.lineId } }] : [];
    });
}
