/** All tables, for migrations. Each room keeps its own; a reference against the arrows between rooms is stated here. */
import { foreignKey, type SQLiteColumn, type SQLiteTable } from 'drizzle-orm/sqlite-core';
import { invoice, invoiceLine, payment } from './accounts';
import { drawer } from './counter';
import { customerOrder, customerOrderLine } from './selling';

export * from './accounts/invoice-schema';
export * from './accounts/schema';
export * from './buying/schema';
export * from './bulk/schema';
export * from './catalogue/custom-schema';
export * from './catalogue/party-schema';
export * from './catalogue/schema';
export * from './desk/schema';
export * from './dispatch/schema';
export * from './planning/schema';
export * from './platform/schema';
export * from './production/schema';
export * from './counter/schema';
export * from './incoming/schema';
export * from './returns/schema';
export * from './selling/price-schema';
export * from './selling/schema';
export * from './stores/document-schema';
export * from './stores/schema';
export * from './stores/tracking-schema';

/** Where a table keeps the references of its columns; Drizzle has no public word for it. */
const REFERENCES = Symbol.for('drizzle:SQLiteInlineForeignKeys');

function refers(table: SQLiteTable, column: SQLiteColumn, foreign: SQLiteColumn): void {
  const stated = foreignKey(() => ({ columns: [column], foreignColumns: [foreign] })) as unknown as { build: (table: SQLiteTable) => unknown };
  (table as unknown as Record<symbol, unknown[]>)[REFERENCES]?.push(stated.build(table));
}

refers(invoice, invoice.orderId, customerOrder.id);
refers(invoiceLine, invoiceLine.orderLineId, customerOrderLine.id);
refers(payment, payment.orderId, customerOrder.id);
refers(payment, payment.drawerId, drawer.id);
