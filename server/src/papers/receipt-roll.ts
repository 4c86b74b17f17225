/** A receipt as PDF, as wide as a roll of 80 mm and as long as it is. */
import type { Content } from 'pdfmake/interfaces';
import type { Receipt } from '@terrace/core';
import { LINE, QUIET, renderPdf } from '../platform/pdf';

/** 80 mm, and what a printer leaves free on each side, in points. */
const WIDTH = 226.77;
const SIDE = 11;

const rule: Content = {
  canvas: [{ type: 'line', x1: 0, y1: 3, x2: WIDTH - 2 * SIDE, y2: 3, lineWidth: 0.5, lineColor: LINE }],
  margin: [0, 3, 0, 4],
};

function sides(left: string, right: string, more: object = {}): Content {
  return {
    columns: [
      { text: left, width: '*' },
      { text: right, width: 'auto', alignment: 'right' },
    ],
    columnGap: 6,
    ...more,
  };
}

/** Renders a receipt. */
export async function renderReceipt({ head, facts, lines, sums, foot }: Receipt): Promise<Buffer> {
  const total = sums.findIndex(([words]) => words.startsWith('Total'));
  return renderPdf({
    info: { title: facts[0]?.join(' ') ?? 'Receipt' },
    pageSize: { width: WIDTH, height: 'auto' },
    pageMargins: [SIDE, 14, SIDE, 18],
    defaultStyle: { fontSize: 8.5 },
    content: [
      ...head.map((text, index): Content => ({ text, alignment: 'center', ...(index === 0 ? { bold: true, fontSize: 11 } : { color: QUIET }) })),
      rule,
      ...facts.map(([words, value]) => sides(words, value)),
      rule,
      ...lines.flatMap(({ words, detail, amount }): Content[] => [{ text: words }, sides(detail, amount, { color: QUIET, margin: [8, 0, 0, 3] })]),
      rule,
      ...sums.map(([words, value], index) => sides(words, value, index === total ? { bold: true, fontSize: 11 } : {})),
      rule,
      ...foot.map((text): Content => ({ text, alignment: 'center', color: QUIET })),
    ],
  });
}
