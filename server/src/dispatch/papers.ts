/** The papers of dispatch's documents. */
import { isGoods } from '@terrace/core';
import { itemFacts } from '../catalogue';
import { addressOf, type DocumentPaper, type PaperCell } from '../platform/paper';
import { shipmentView } from './shipments';

export const pickListPaper: DocumentPaper = {
  right: 'dispatch.see',
  make: (work, id) => {
    const shipment = shipmentView(work, id);
    return {
      title: 'Pick list',
      number: shipment.number,
      to: addressOf({ name: shipment.customer, address: shipment.address }),
      scannable: true,
      note: shipment.carrier === '' ? '' : `Carrier: ${shipment.carrier}`,
      facts: [
        ['Order', shipment.order],
        ['Warehouse', shipment.warehouse],
        ['Date', shipment.date],
      ],
      table: {
        widths: [60, '*', 160, 52, 40, 40],
        right: [3],
        head: ['Bin', 'Item', 'Scan', 'Quantity', 'Unit', 'Picked'],
        // Nobody picks a service or a charge.
        rows: shipment.lines
          .filter(({ itemId }) => isGoods(itemFacts(work, itemId).kind))
          .map((line): PaperCell[] => [
            line.bin || '—',
            `${line.code}\n${line.description}`,
            { scan: line.code },
            line.quantity,
            line.unit,
            '[    ]',
          ]),
      },
      totals: [],
    };
  },
};
