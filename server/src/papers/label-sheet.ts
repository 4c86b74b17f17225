/** Sheets of labels as PDF. */
import { toSVG } from 'bwip-js/node';
import type { Content, TableCell } from 'pdfmake/interfaces';
import { LINE, QUIET, renderPdf } from '../platform/pdf';

/** A label: what people read, and the code that a scanner reads. */
export interface Label {
  readonly title: string;
  readonly lines: readonly string[];
  /** A GS1 element string with brackets, or a plain text. */
  readonly code: string;
  readonly symbol: 'gs1-128' | 'gs1datamatrix' | 'code128';
}

const ACROSS = 2;
const DOWN = 6;

/** The drawing of a label's code. */
export function symbolOf(label: Pick<Label, 'code' | 'symbol'>): string {
  const { code, symbol } = label;
  return toSVG(symbol === 'gs1datamatrix' ? { bcid: symbol, text: code } : { bcid: symbol, text: code, height: 11, includetext: false });
}

/** Renders labels as sheets of twelve. */
export async function renderLabels(labels: readonly Label[]): Promise<Buffer> {
  const cell = (label: Label | undefined): TableCell =>
    label === undefined
      ? { text: '' }
      : {
          margin: [8, 8, 8, 4],
          stack: [
            { text: label.title, bold: true, fontSize: 12 },
            ...label.lines.map((text): Content => ({ text, fontSize: 9 })),
            { svg: symbolOf(label), fit: label.symbol === 'gs1datamatrix' ? [52, 52] : [230, 44], margin: [0, 6, 0, 2] },
            { text: label.code, fontSize: 7, color: QUIET },
          ],
        };
  const rows = Array.from({ length: Math.ceil(labels.length / ACROSS) }, (_, row) =>
    Array.from({ length: ACROSS }, (__, column) => cell(labels[row * ACROSS + column])),
  );
  return renderPdf({
    info: { title: 'Labels' },
    pageMargins: [20, 24, 20, 24],
    content: [
      {
        table: { widths: ['*', '*'], heights: 790 / DOWN - 1, dontBreakRows: true, body: rows },
        layout: { hLineColor: () => LINE, vLineColor: () => LINE },
      },
    ],
  });
}
