/** PDF documents with the company's letterhead. */
import { toSVG } from 'bwip-js/node';
import type { Content, TableCell } from 'pdfmake/interfaces';
import { LINE, QUIET, renderPdf } from '../platform/pdf';

export interface PaperTable {
  readonly widths: readonly (string | number)[];
  readonly head: readonly string[];
  readonly rows: readonly (readonly (string | Content)[])[];
  /** Columns of figures, set to the right. */
  readonly right: readonly number[];
}

export interface Paper {
  readonly company: string;
  readonly title: string;
  readonly number: string;
  /** Address of the other side. */
  readonly to: readonly string[];
  readonly facts: readonly (readonly [string, string])[];
  readonly table: PaperTable;
  readonly totals: readonly (readonly [string, string])[];
  readonly note: string;
  /** Whether the number is also printed as a barcode. */
  readonly scannable: boolean;
}

/** A Code 128 barcode as drawing. */
export function barcode(text: string, height = 28): Content {
  return { svg: toSVG({ bcid: 'code128', text, height: 10, includetext: false }), fit: [150, height] };
}

function tableOf(table: PaperTable): Content {
  const cell = (value: string | Content, column: number): TableCell => {
    const alignment = table.right.includes(column) ? 'right' : 'left';
    return typeof value === 'string' ? { text: value, alignment } : value;
  };
  return {
    table: {
      headerRows: 1,
      widths: [...table.widths],
      body: [
        table.head.map((text, column) => ({
          text,
          color: QUIET,
          fontSize: 8,
          alignment: table.right.includes(column) ? ('right' as const) : ('left' as const),
        })),
        ...table.rows.map((row) => row.map(cell)),
      ],
    },
    layout: {
      hLineWidth: (row) => (row < 2 ? 1 : 0.5),
      vLineWidth: () => 0,
      hLineColor: () => LINE,
      paddingTop: () => 5,
      paddingBottom: () => 5,
      paddingLeft: () => 2,
      paddingRight: () => 2,
    },
  };
}

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

/** Renders a paper as PDF. */
export async function renderPaper(paper: Paper): Promise<Buffer> {
  const facts: Content = { table: { body: paper.facts.map(([name, value]) => [{ text: name, color: QUIET }, value]) }, layout: 'noBorders' };
  const totals: Content = {
    table: {
      widths: ['*', 90],
      body: paper.totals.map(([name, value], index) => [
        { text: name, alignment: 'right' },
        { text: value, alignment: 'right', bold: index === paper.totals.length - 1 },
      ]),
    },
    layout: 'noBorders',
    margin: [0, 8, 0, 0],
  };
  return renderPdf({
    info: { title: `${paper.title} ${paper.number}`, author: paper.company },
    pageMargins: [48, 84, 48, 56],
    defaultStyle: { fontSize: 10, lineHeight: 1.15 },
    header: {
      margin: [48, 32, 48, 0],
      columns: [
        { stack: [{ text: paper.company, bold: true, fontSize: 13 }, { canvas: steps() }] },
        {
          text: [
            { text: `${paper.title}\n`, color: QUIET },
            { text: paper.number, bold: true, fontSize: 13 },
          ],
          alignment: 'right',
        },
      ],
    },
    footer: (page, pages) => ({
      margin: [48, 16, 48, 0],
      color: QUIET,
      fontSize: 8,
      columns: [{ text: `${paper.title} ${paper.number}` }, { text: `${page} of ${pages}`, alignment: 'right' }],
    }),
    content: [
      {
        columns: [
          { stack: paper.to.map((text, index) => ({ text, bold: index === 0 })) },
          { stack: [facts, ...(paper.scannable ? [{ ...(barcode(paper.number) as object), margin: [0, 8, 0, 0] } as Content] : [])], width: 200 },
        ],
        margin: [0, 0, 0, 22],
      },
      tableOf(paper.table),
      ...(paper.totals.length > 0 ? [totals] : []),
      ...(paper.note === '' ? [] : [{ text: paper.note, margin: [0, 18, 0, 0] } as Content]),
    ],
  });
}

/** The house's stepped line under the company's name. */
function steps(): { type: 'line'; x1: number; y1: number; x2: number; y2: number; lineWidth: number; lineColor: string }[] {
  return [0, 1, 2].map((step) => ({
    type: 'line',
    x1: step * 44,
    y1: 8 - step * 2.5,
    x2: step * 44 + 44,
    y2: 8 - step * 2.5,
    lineWidth: 2,
    lineColor: '#1E746C',
  }));
}
