/** The paper that goes into the parcel of a customer who sends something back. */
import { customerOf } from '../catalogue';
import { addressOf, type DocumentPaper } from '../platform/paper';
import type { Work } from '../platform/work';
import { returnView } from './return-view';

export const returnPaper: DocumentPaper = {
  right: 'selling.see',
  make: (work: Work, id) => {
    const back = returnView(work, id);
    return {
      title: 'Return slip',
      number: back.number,
      to: addressOf(customerOf(work, back.customerId)),
      scannable: true,
      note: 'Please put this slip into the parcel. What is not on it is not taken in.',
      facts: [
        ['Order', back.order],
        ['Agreed on', back.date],
        ['Because', back.reason],
        ['Comes to', back.warehouse],
      ],
      table: {
        widths: ['*', 110, 64, 50],
        right: [2],
        head: ['Item', 'Lot, serial number', 'Quantity', 'Unit'],
        rows: back.lines.map((line) => [
          `${line.code}  ${line.description}`,
          [line.lot, line.serial].filter(Boolean).join(' '),
          line.quantity,
          line.unit,
        ]),
      },
      totals: [],
    };
  },
};
