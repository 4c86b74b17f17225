/** The kinds of documents and records that the stores have. */
import { eq, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import { item, reason, warehouse } from '../catalogue';
import type { DocumentSpec } from '../platform/documents';
import { takenBack } from '../platform/expressions';
import { lateCost, reclassification, relocation, revaluation, transfer } from './document-schema';
import { otherRooms } from './handed-in';
import { adjustmentPaper, transferPaper } from './papers';
import { adjustment } from './schema';
import { lot, serialNumber } from './tracking-schema';

const source = alias(warehouse, 'source');
const none = sql<null>`null`;
const itemWords = sql<string>`${item.code} || ' ' || ${item.description}`;

export const storesDocuments = (): readonly DocumentSpec[] => [
  {
    kind: 'adjustment',
    table: adjustment,
    prefix: 'ADJ',
    facts: { number: adjustment.number, state: none, date: adjustment.date, detail: reason.name },
    joins: [{ table: reason, on: eq(reason.code, adjustment.reason) }],
    found: 9,
    paper: adjustmentPaper,
  },
  {
    kind: 'transfer',
    table: transfer,
    prefix: 'TR',
    facts: {
      number: transfer.number,
      state: transfer.state,
      date: transfer.date,
      detail: sql<string>`${source.code} || ' to ' || ${warehouse.code}`,
    },
    joins: [
      { table: source, on: eq(source.id, transfer.fromId) },
      { table: warehouse, on: eq(warehouse.id, transfer.toId) },
    ],
    found: 8,
    paper: transferPaper,
  },
  {
    kind: 'relocation',
    table: relocation,
    prefix: 'MV',
    facts: { number: relocation.number, state: takenBack(relocation.reversed), date: relocation.date, detail: relocation.reason },
  },
  {
    kind: 'lateCost',
    table: lateCost,
    prefix: 'LC',
    facts: { number: lateCost.number, state: none, date: lateCost.date, detail: otherRooms.get().receiptNumber(lateCost.receiptId) },
  },
  {
    kind: 'revaluation',
    table: revaluation,
    prefix: 'RV',
    facts: { number: revaluation.number, state: none, date: revaluation.date, detail: item.code },
    joins: [{ table: item, on: eq(item.id, revaluation.itemId) }],
  },
  {
    kind: 'reclassification',
    table: reclassification,
    prefix: 'AC',
    facts: { number: reclassification.number, state: none, date: reclassification.date, detail: reclassification.note },
  },
  {
    kind: 'lot',
    table: lot,
    prefix: null,
    facts: { number: lot.code, state: sql`case ${lot.blocked} when 1 then 'blocked' end`, date: lot.expiry, detail: itemWords },
    joins: [{ table: item, on: eq(item.id, lot.itemId) }],
    found: 6,
  },
  {
    kind: 'serialNumber',
    table: serialNumber,
    prefix: null,
    facts: { number: serialNumber.code, state: none, date: serialNumber.madeOn, detail: itemWords },
    joins: [{ table: item, on: eq(item.id, serialNumber.itemId) }],
    found: 7,
  },
];
