/** The kinds of documents that buying has. */
import { eq } from 'drizzle-orm';
import { supplier } from '../catalogue';
import type { DocumentSpec } from '../platform/documents';
import { takenBack } from '../platform/expressions';
import { purchasePaper } from './papers';
import { purchaseOrder, receipt } from './schema';

export const buyingDocuments: readonly DocumentSpec[] = [
  {
    kind: 'purchaseOrder',
    table: purchaseOrder,
    prefix: 'PO',
    facts: { number: purchaseOrder.number, state: purchaseOrder.state, date: purchaseOrder.orderDate, detail: supplier.name },
    joins: [{ table: supplier, on: eq(supplier.id, purchaseOrder.supplierId) }],
    found: 3,
    paper: purchasePaper,
  },
  {
    kind: 'receipt',
    table: receipt,
    prefix: 'RC',
    facts: { number: receipt.number, state: takenBack(receipt.reversed), date: receipt.date, detail: purchaseOrder.number },
    joins: [{ table: purchaseOrder, on: eq(purchaseOrder.id, receipt.purchaseOrderId) }],
  },
];
