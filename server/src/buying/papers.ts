/** The papers of buying's documents. */
import { supplierOf } from '../catalogue';
import { addressOf, type DocumentPaper } from '../platform/paper';
import { currencyOf } from '../platform/settings';
import { purchaseView } from './orders';

export const purchasePaper: DocumentPaper = {
  right: 'buying.see',
  make: (work, id) => {
    const order = purchaseView(work, id);
    return {
      title: 'Purchase order',
      number: order.number,
      to: addressOf(supplierOf(work, order.supplierId)),
      scannable: true,
      note: order.note,
      facts: [
        ['Date', order.orderDate],
        ['Deliver to', order.warehouse],
        ['Lines', String(order.lines.length)],
      ],
      table: {
        widths: [18, '*', 60, 40, 62, 58, 62],
        right: [2, 4, 6],
        head: ['', 'Item', 'Quantity', 'Unit', 'Price', 'Due', 'Amount'],
        rows: order.lines.map((line) => [
          String(line.position),
          `${line.supplierItemCode || line.code}  ${line.description}`,
          line.quantity,
          line.unit,
          line.price,
          line.dueDate,
          line.amount,
        ]),
      },
      totals: [[`Total ${currencyOf(work.store)}`, order.total]],
    };
  },
};
