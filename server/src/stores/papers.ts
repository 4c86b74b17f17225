/** The papers of the stores' documents. */
import type { DocumentPaper, PaperCell } from '../platform/paper';
import { currencyOf } from '../platform/settings';
import { adjustmentView } from './adjustments';
import { transferView } from './transfer-view';

export const transferPaper: DocumentPaper = {
  right: 'stores.see',
  make: (work, id) => {
    const transfer = transferView(work, id);
    const leaving = transfer.state === 'requested';
    return {
      title: leaving ? 'Pick list for a transfer' : 'Transfer',
      number: transfer.number,
      to: [`To ${transfer.to}`, `from ${transfer.from}`],
      scannable: true,
      note: [transfer.carrier === '' ? '' : `Carrier: ${transfer.carrier}`, transfer.note].filter((text) => text !== '').join('\n'),
      facts: [
        ['Ships', transfer.shipDate],
        ['Due', transfer.dueDate],
        ['Lines', String(transfer.lines.length)],
      ],
      table: {
        widths: [60, '*', 150, 56, 40, 50],
        right: [3],
        head: ['Bin', 'Item', 'Scan', 'Quantity', 'Unit', leaving ? 'Picked' : 'Arrived'],
        rows: transfer.lines.map((line): PaperCell[] => [
          line.bin || '—',
          [`${line.code}  ${line.description}`, ...line.pieces.map((piece) => piece.serial || `lot ${piece.lot}: ${piece.quantity}`)].join('\n'),
          { scan: line.code },
          leaving ? line.quantity : line.shipped,
          line.unit,
          '[    ]',
        ]),
      },
      totals: [],
    };
  },
};

export const adjustmentPaper: DocumentPaper = {
  right: 'stores.see',
  make: (work, id) => {
    const adjustment = adjustmentView(work, id);
    return {
      title: adjustment.reversed ? 'Adjustment, taken back' : 'Adjustment',
      number: adjustment.number,
      to: [adjustment.warehouse, adjustment.reason],
      scannable: true,
      note: adjustment.note,
      facts: [
        ['Date', adjustment.date],
        ['By', adjustment.who],
        ['Account', adjustment.account],
      ],
      table: {
        widths: [50, '*', 110, 66, 40, 70],
        right: [3, 5],
        head: ['Bin', 'Item', 'Lot or number', 'Change', 'Unit', currencyOf(work.store)],
        rows: adjustment.lines.map((line) => [
          line.bin,
          `${line.code}  ${line.description}`,
          line.serial || line.lot,
          line.change,
          line.unit,
          line.value,
        ]),
      },
      totals: [[`Worth ${currencyOf(work.store)}`, adjustment.value]],
    };
  },
};
