/** PDF documents with the company's letterhead. */
import { toSVG } from 'bwip-js/node';
import type { Content, Margins, TableCell } from 'pdfmake/interfaces';
import type { Right } from '@terrace/contract';
import type { Letterhead } from './letterhead';
import { LINE, QUIET, renderPdf } from './pdf';
import type { Work } from './work';

/** What stands in a cell: a text, a text to scan, or a drawing. */
export type PaperCell = string | { readonly scan: string } | Content;

export interface PaperTable {
  readonly widths: readonly (string | number)[];
  readonly head: readonly string[];
  readonly rows: readonly (readonly PaperCell[])[];
  /** Columns of figures, set to the right. */
  readonly right: readonly number[];
}

export interface Paper {
  readonly letterhead: Letterhead;
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

/** The paper of a kind of document: who may see it, and what is on it. */
export interface DocumentPaper {
  readonly right: Right;
  readonly make: (work: Work, id: number) => Omit<Paper, 'letterhead'>;
}

/** The other side of a document as it stands on its paper. */
export function addressOf(party: { readonly name: string; readonly address: string }): string[] {
  return [party.name, ...party.address.split('\n')];
}

/** A Code 128 barcode as drawing. */
function barcode(text: string, height = 28): Content {
  return { svg: toSVG({ bcid: 'code128', text, height: 10, includetext: false }), fit: [150, height] };
}

function tableOf(table: PaperTable): Content {
  const cell = (value: PaperCell, column: number): TableCell => {
    const alignment = table.right.includes(column) ? 'right' : 'left';
    if (typeof value === 'string') return { text: value, alignment };
    return typeof value === 'object' && 'scan' in value ? barcode(value.scan, 24) : value;
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

interface PaperPages {
  readonly pageMargins: Margins;
  readonly header: Content;
  readonly footer: (page: number, pages: number) => Content;
  readonly content: Content;
}

/** What one paper is on its pages; `pageWords` says which page it is, as its foot has it. */
function pagesOf(paper: Paper, pageWords: (page: number, pages: number) => string): PaperPages {
  const { letterhead } = paper;
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
  return {
    // Room for as many lines as the address has, and for what stands at the foot.
    pageMargins: [48, 84 + Math.max(0, letterhead.address.length - 1) * ADDRESS_LINE, 48, letterhead.foot === '' ? 56 : 76],
    header: {
      margin: [48, 32, 48, 0],
      columns: [
        headOf(letterhead),
        {
          text: [
            { text: `${paper.title}\n`, color: QUIET },
            { text: paper.number, bold: true, fontSize: 13 },
          ],
          alignment: 'right',
        },
      ],
    },
    footer: (page: number, pages: number): Content => ({
      margin: [48, 16, 48, 0],
      color: QUIET,
      fontSize: 8,
      stack: [
        { columns: [{ text: `${paper.title} ${paper.number}` }, { text: pageWords(page, pages), alignment: 'right' }] },
        ...(letterhead.foot === '' ? [] : [{ text: letterhead.foot, margin: [0, 4, 0, 0] } as Content]),
      ],
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
  };
}

const STYLE = { fontSize: 10, lineHeight: 1.15 };

/** Renders a paper as PDF. */
export async function renderPaper(paper: Paper): Promise<Buffer> {
  return renderPdf({
    info: { title: `${paper.title} ${paper.number}`, author: paper.letterhead.company },
    defaultStyle: STYLE,
    ...pagesOf(paper, (page, pages) => `${page} of ${pages}`),
  });
}

/** Renders papers one after the other, each with its own head and foot and its own first page. */
export async function renderPapers(papers: readonly Paper[]): Promise<Buffer> {
  const [first] = papers;
  if (!first) throw new RangeError('no paper to render');
  return renderPdf({
    info: { title: first.title, author: first.letterhead.company },
    defaultStyle: STYLE,
    content: papers.map((paper): Content => {
      let before: number | undefined;
      const { content, ...pages } = pagesOf(paper, (page) => `${page - (before ??= page - 1)}`);
      return { section: content, ...pages };
    }),
  });
}

const ADDRESS_LINE = 11;

/** Name, address and picture of the house; without a picture, its stepped line. */
function headOf({ company, address, logo }: Letterhead): Content {
  const under: Content[] = address.map((line) => ({ text: line, color: QUIET, fontSize: 8 }));
  const name: Content = { stack: [{ text: company, bold: true, fontSize: 13 }, ...(logo === null ? [{ canvas: steps() }] : []), ...under] };
  return logo === null ? name : { columns: [{ image: logo, fit: [90, 40], width: 98 }, name] };
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
