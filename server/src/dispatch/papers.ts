/** The papers of dispatch's documents. */
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
        rows: shipment.lines.map((line): PaperCell[] => [
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
