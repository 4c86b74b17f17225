/** The time chart of a customer's order as a paper: what happens when, and what decides when it is ready. */
import type { Content } from 'pdfmake/interfaces';
import type { OrderChart, PegView } from '@terrace/contract';
import { chainOf, dayOf } from '@terrace/core';
import type { Letterhead } from '../platform/letterhead';
import type { Paper } from '../platform/paper';

const WIDTH = 190;
const HEIGHT = 9;
const DO: Readonly<Record<string, string>> = { buy: 'Buy', make: 'Make', transfer: 'Bring over' };

function stepOf(peg: PegView): string {
  if (peg.kind === 'stock') return 'In stock';
  return peg.kind === 'receipt' ? 'Under way' : (DO[peg.source ?? ''] ?? 'Get');
}

/** The paper of an order's chart, one row for each supply. */
export function orderChartPaper(letterhead: Letterhead, chart: OrderChart): Paper {
  const days = chart.lines.flatMap((line) => [
    line.wanted,
    ...chainOf(line.served, chart.today).flatMap(({ link }) => [link.start, link.ready ?? link.due]),
  ]);
  const first = dayOf([chart.today, ...days].sort()[0] ?? chart.today);
  const last = Math.max(first + 1, dayOf([chart.today, ...days].sort().at(-1) ?? chart.today) + 1);
  const x = (date: string): number => ((dayOf(date) - first) / (last - first)) * WIDTH;
  const bar = (from: string, to: string, wanted: string, dark: boolean): Content => ({
    svg: `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}"><rect x="${x(from)}" y="2" width="${Math.max(2, x(to) - x(from))}" height="5" fill="${dark ? '#1F2D28' : '#8FA89B'}"/><path d="M${x(wanted)} 0V${HEIGHT}" stroke="#B0502A" stroke-width="1.2"/></svg>`,
    width: WIDTH,
  });
  const rows = chart.lines.flatMap((line): (string | Content)[][] => [
    [
      { text: `${line.quantity} ${line.unit} ${line.code} ${line.description}`, bold: true },
      line.wanted,
      line.ready ?? 'open',
      bar(chart.today, line.ready ?? line.wanted, line.wanted, true),
    ],
    ...chainOf(line.served, chart.today).map(({ link, depth, critical }): (string | Content)[] => [
      { text: `${stepOf(link)} ${link.quantity} ${link.unit} ${link.description}`, bold: critical, margin: [8 + depth * 8, 0, 0, 0] },
      link.kind === 'stock' ? '' : link.start,
      link.kind === 'stock' ? '' : (link.ready ?? 'open'),
      link.kind === 'stock' ? '' : bar(link.start, link.ready ?? link.due, link.wanted, critical),
    ]),
  ]);
  const readies = chart.lines.map((line) => line.ready);
  const all = readies.includes(null)
    ? 'open'
    : (readies
        .filter((ready) => ready !== null)
        .sort()
        .at(-1) ?? 'now');
  return {
    letterhead,
    title: 'What happens when',
    number: chart.number,
    to: [chart.customer],
    scannable: false,
    note: 'Bold is what decides when the order is ready; the upright stroke is the day on which it is needed.',
    facts: [
      ['As of', chart.today],
      ['All of it ready', all],
    ],
    table: { widths: ['*', 56, 56, WIDTH], right: [], head: ['Step', 'From', 'There', ''], rows },
    totals: [],
  };
}
