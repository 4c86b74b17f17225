/** What the story looks up before it does the next thing. */
import { and, desc, eq, gte, inArray, isNotNull, lte, max, notExists, sql } from 'drizzle-orm';
import type { Quantity } from '@terrace/core';
import { query, schema } from '@terrace/server';

const {
  balance,
  bin,
  customerOrder,
  invoice,
  item,
  lot,
  productionOrder,
  purchaseOrder,
  purchaseOrderLine,
  reservation,
  serialNumber,
  shipment,
  stockMove,
  supplier,
  transfer,
  transferLine,
  warehouse,
} = schema;

const waitingFor = (state: 'requested' | 'shipped') =>
  query(() => (db) => db.select({ id: transfer.id }).from(transfer).where(eq(transfer.state, state)).orderBy(desc(transfer.id)).limit(1));
/** The latest transfer in a state. */
export const latestTransfer = { requested: waitingFor('requested'), shipped: waitingFor('shipped') };

/** Whether something is reserved for the latest transfer, which has not left. */
export const reservedForLatest = query(
  () => (db) =>
    db
      .select({ id: reservation.id })
      .from(reservation)
      .innerJoin(transferLine, and(eq(reservation.holderKind, 'transfer'), eq(transferLine.id, reservation.holderId)))
      .innerJoin(transfer, eq(transfer.id, transferLine.transferId))
      .where(and(eq(transfer.state, 'requested'), inArray(transfer.id, db.select({ id: max(transfer.id) }).from(transfer)))),
);

/** The first receipt that brought raw wax. */
export const waxReceipt = query(
  () => (db) =>
    db
      .select({ id: stockMove.documentId })
      .from(stockMove)
      .innerJoin(item, eq(item.id, stockMove.itemId))
      .where(and(eq(stockMove.documentKind, 'receipt'), eq(item.code, 'RAWWAX')))
      .orderBy(stockMove.id)
      .limit(1),
);

/** The lot of raw wax of which least is left. */
export const waxLot = query(
  () => (db) =>
    db
      .select({ id: lot.id, version: lot.version })
      .from(lot)
      .innerJoin(item, eq(item.id, lot.itemId))
      .innerJoin(balance, and(eq(balance.itemId, lot.itemId), eq(balance.lot, lot.code)))
      .where(and(eq(item.code, 'RAWWAX'), eq(balance.state, 'available'), isNotNull(lot.supplierId)))
      .groupBy(lot.id)
      .orderBy(sql`sum(${balance.quantity})`, lot.id)
      .limit(1),
);

/** An extractor that a customer has. */
export const soldExtractor = query(
  () => (db) =>
    db
      .select({ id: serialNumber.id, serial: serialNumber.code, version: serialNumber.version, warrantyUntil: serialNumber.warrantyUntil })
      .from(serialNumber)
      .innerJoin(item, eq(item.id, serialNumber.itemId))
      .where(
        and(
          eq(item.code, 'EXTRACT-9'),
          isNotNull(serialNumber.warrantyUntil),
          notExists(
            db
              .select({ id: balance.itemId })
              .from(balance)
              .where(and(eq(balance.itemId, serialNumber.itemId), eq(balance.serial, serialNumber.code))),
          ),
        ),
      )
      .orderBy(serialNumber.id)
      .limit(1),
);

/** The first bin of a warehouse that is not its dock. */
export const firstShelf = query(
  ($: { warehouseId: number }) => (db) =>
    db
      .select({ code: bin.code, warehouse: warehouse.code })
      .from(bin)
      .innerJoin(warehouse, eq(warehouse.id, bin.warehouseId))
      .where(and(eq(warehouse.id, $.warehouseId), eq(bin.dock, false)))
      .orderBy(bin.code)
      .limit(1),
);

/** Whether so many of an item lie in a bin. */
export const liesIn = query(
  ($: { itemId: number; binId: number; quantity: Quantity }) => (db) =>
    db
      .select({ quantity: balance.quantity })
      .from(balance)
      .where(and(eq(balance.itemId, $.itemId), eq(balance.binId, $.binId), gte(balance.quantity, $.quantity))),
);

/** What lies at docks and is available. */
export const atDocks = query(
  () => (db) =>
    db
      .select({
        itemId: balance.itemId,
        binId: balance.binId,
        warehouse: warehouse.code,
        group: item.groupCode,
        lot: balance.lot,
        serial: balance.serial,
        quantity: balance.quantity,
      })
      .from(balance)
      .innerJoin(bin, and(eq(bin.id, balance.binId), eq(bin.dock, true)))
      .innerJoin(warehouse, eq(warehouse.id, balance.warehouseId))
      .innerJoin(item, eq(item.id, balance.itemId))
      .where(eq(balance.state, 'available'))
      .orderBy(balance.itemId, balance.lot, balance.serial),
);

export const purchaseDrafts = query(
  () => (db) => db.select({ id: purchaseOrder.id }).from(purchaseOrder).where(eq(purchaseOrder.state, 'draft')).orderBy(purchaseOrder.id),
);

/** Purchase orders of which something arrives by a day; one supplier is always late. */
export const arrivingBy = query(
  ($: { date: string; lateSupplier: string; late: string }) => (db) =>
    db
      .selectDistinct({ id: purchaseOrder.id })
      .from(purchaseOrder)
      .innerJoin(purchaseOrderLine, eq(purchaseOrderLine.orderId, purchaseOrder.id))
      .innerJoin(supplier, eq(supplier.id, purchaseOrder.supplierId))
      .where(
        and(
          inArray(purchaseOrder.state, ['sent', 'partReceived']),
          sql`${purchaseOrderLine.received} + ${purchaseOrderLine.cancelled} < ${purchaseOrderLine.quantity}`,
          sql`date(${purchaseOrderLine.dueDate}, case ${supplier.code} when ${$.lateSupplier} then ${$.late} else '+0 days' end) <= ${$.date}`,
        ),
      )
      .orderBy(purchaseOrder.id),
);

export const productionToRelease = query(
  ($: { date: string }) => (db) =>
    db
      .select({ id: productionOrder.id })
      .from(productionOrder)
      .where(and(eq(productionOrder.state, 'draft'), lte(productionOrder.startDate, $.date)))
      .orderBy(productionOrder.dueDate, productionOrder.id),
);

export const productionToFinish = query(
  ($: { date: string }) => (db) =>
    db
      .select({ id: productionOrder.id })
      .from(productionOrder)
      .where(and(inArray(productionOrder.state, ['released', 'running']), lte(productionOrder.dueDate, $.date)))
      .orderBy(productionOrder.startDate, productionOrder.id),
);

const IN_WORK = inArray(customerOrder.state, ['confirmed', 'partShipped']);

export const ordersInWork = query(
  () => (db) => db.select({ id: customerOrder.id }).from(customerOrder).where(IN_WORK).orderBy(customerOrder.requiredDate, customerOrder.id),
);

export const ordersConfirmed = query(
  () => (db) =>
    db
      .select({ id: customerOrder.id })
      .from(customerOrder)
      .where(eq(customerOrder.state, 'confirmed'))
      .orderBy(customerOrder.requiredDate, customerOrder.id),
);

/** Orders wanted by a day that no shipment is made for. */
export const ordersToShip = query(
  ($: { date: string }) => (db) =>
    db
      .select({ id: customerOrder.id })
      .from(customerOrder)
      .where(
        and(
          IN_WORK,
          lte(customerOrder.requiredDate, $.date),
          notExists(
            db
              .select({ id: shipment.id })
              .from(shipment)
              .where(and(eq(shipment.orderId, customerOrder.id), inArray(shipment.state, ['draft', 'picking']))),
          ),
        ),
      )
      .orderBy(customerOrder.requiredDate, customerOrder.id),
);

export const invoicesDueBy = query(
  ($: { date: string }) => (db) =>
    db
      .select({ id: invoice.id, dueDate: invoice.dueDate, customer: schema.customer.code })
      .from(invoice)
      .innerJoin(schema.customer, eq(schema.customer.id, invoice.customerId))
      .where(and(eq(invoice.state, 'open'), lte(invoice.dueDate, $.date)))
      .orderBy(invoice.id),
);

/** Orders that have left whole and are invoiced, in the order in which they came. */
export const ordersInvoiced = query(
  () => (db) =>
    db
      .select({ id: customerOrder.id })
      .from(customerOrder)
      .where(inArray(customerOrder.state, ['invoiced', 'closed']))
      .orderBy(customerOrder.id),
);

/** What customers have not paid, what is due first before the rest. */
export const openInvoices = query(
  () => (db) =>
    db
      .select({ id: invoice.id, customerId: invoice.customerId })
      .from(invoice)
      .where(and(eq(invoice.state, 'open'), eq(invoice.kind, 'invoice')))
      .orderBy(invoice.dueDate, invoice.id),
);

const called = (table: typeof schema.customer | typeof schema.supplier | typeof schema.warehouse | typeof schema.item) =>
  query(($: { code: string }) => (db) => db.select({ id: table.id }).from(table).where(eq(table.code, $.code)));
/** Records by their codes. */
export const byCode = {
  customer: called(schema.customer),
  supplier: called(schema.supplier),
  warehouse: called(schema.warehouse),
  item: called(schema.item),
};

export const binCalled = query(
  ($: { warehouse: string; code: string }) => (db) =>
    db
      .select({ id: bin.id })
      .from(bin)
      .innerJoin(warehouse, eq(warehouse.id, bin.warehouseId))
      .where(and(eq(warehouse.code, $.warehouse), eq(bin.code, $.code))),
);
