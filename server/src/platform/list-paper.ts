/** A list as PDF. */
import { INK, LINE, QUIET, renderPdf } from './pdf';

export interface ListPaper {
  readonly company: string;
  readonly title: string;
  /** The day as of which it is. */
  readonly day: string;
  /** What the list was narrowed to; empty for all of it. */
  readonly narrowed: string;
  readonly columns: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

const FIGURE = /^-?\d+(\.\d+)?$/;
/** Signs of a column that decide how wide it is set. */
const WIDEST = 40;
const MEASURED_ROWS = 200;

/** Draws a list. */
export async function drawList({ company, title, day, narrowed, columns, rows }: ListPaper): Promise<Buffer> {
  const sample = rows.slice(0, MEASURED_ROWS);
  const right = columns.map((_, column) => sample.length > 0 && sample.every((row) => row[column] === '' || FIGURE.test(row[column] ?? '')));
  const wide = columns.map((name, column) => Math.min(WIDEST, Math.max(name.length, ...sample.map((row) => (row[column] ?? '').length))));
  const all = wide.reduce((sum, each) => sum + each, 0);
  const alignment = (column: number): 'right' | 'left' => (right[column] === true ? 'right' : 'left');
  return renderPdf({
    info: { title: `${title}, ${day}`, author: company },
    pageOrientation: 'landscape',
    pageMargins: [36, 62, 36, 40],
    defaultStyle: { fontSize: 8, color: INK },
    header: {
      margin: [36, 24, 36, 0],
      columns: [
        { text: [{ text: title, bold: true, fontSize: 12 }, narrowed === '' ? '' : { text: `   narrowed to ${narrowed}`, color: QUIET }] },
        { text: `${company}, ${day}`, alignment: 'right', color: QUIET },
      ],
    },
    footer: (page, pages) => ({
      margin: [36, 10, 36, 0],
      color: QUIET,
      columns: [{ text: `${rows.length} ${rows.length === 1 ? 'row' : 'rows'}` }, { text: `${page} of ${pages}`, alignment: 'right' }],
    }),
    content: [
      {
        table: {
          headerRows: 1,
          widths: wide.map((each) => `${Math.floor((each / all) * 1000) / 10}%`),
          body: [
            columns.map((text, column) => ({ text, color: QUIET, bold: true, alignment: alignment(column) })),
            ...rows.map((row) => row.map((text, column) => ({ text, alignment: alignment(column) }))),
          ],
        },
        layout: {
          hLineWidth: (row) => (row < 2 ? 1 : 0.5),
          vLineWidth: () => 0,
          hLineColor: () => LINE,
          paddingTop: () => 2.5,
          paddingBottom: () => 2.5,
          paddingLeft: () => 2,
          paddingRight: () => 2,
        },
      },
    ],
  });
}
