/** Where the bars of an order's time chart lie: one for each thing that must happen, under what waits for it. */
import type { OrderChart, PegView } from '@terrace/contract';
import { chainOf, dateOf, dayOf, weekdayOf } from '@terrace/core';
import { grouped, longDay, shortDay } from '../ui/format';

const ROW = 26;
export const TOP = 22;
/** Width of the names beside the bars: less where there is little room. */
const NAMES = 230;
const SHORT_NAMES = 170;
const LITTLE_ROOM = 620;
const MARGINS = 80;
/** The least that the bars take, and with the names. */
const FEWEST = 180;
export const NARROWEST = FEWEST + NAMES + MARGINS;
const LONGEST_WEEKS = 14;
const WEEK_WORDS = 52;
const INDENT = 14;

export interface Bar {
  readonly key: string;
  readonly y: number;
  readonly label: string;
  readonly detail: string;
  readonly indent: number;
  readonly itemId: number;
  readonly critical: boolean;
  readonly x: number;
  readonly width: number;
  /** From when it was to be there to when it will be. */
  readonly lateX: number;
  readonly lateWidth: number;
  readonly kind: 'stock' | 'ordered' | 'suggested';
  readonly words: string;
}

type Line = OrderChart['lines'][number];

export interface DrawnLine extends Line {
  readonly late: boolean;
  /** Whether the day that is wanted can be kept, in words. */
  readonly verdict: string;
  readonly bars: readonly Bar[];
  readonly wantedX: number;
  readonly height: number;
  readonly weeks: readonly { readonly x: number; readonly words: string }[];
}

/** How wide names and bars are in a chart of this width. */
export function roomFor(whole: number): { readonly names: number; readonly bars: number } {
  const names = whole < LITTLE_ROOM ? SHORT_NAMES : NAMES;
  return { names, bars: Math.max(FEWEST, whole - names - MARGINS) };
}

/** Draws what must happen for one line, from the first day of any of it, in this width. */
export function drawLine(line: Line, today: string, width: number): DrawnLine {
  const rows = chainOf(line.served, today);
  const days = rows.flatMap(({ link }) => [link.start, link.ready ?? link.due, link.due]);
  const first = dayOf([today, ...days].sort()[0] ?? today);
  const last = Math.min(dayOf([line.wanted, today, ...days].sort().at(-1) ?? line.wanted) + 2, first + LONGEST_WEEKS * 7);
  const x = (date: string): number => ((Math.max(first, Math.min(dayOf(date), last)) - first) / (last - first)) * width;
  const bars = rows.map(({ link, depth, critical }, index): Bar => {
    const stock = link.kind === 'stock';
    const [startX, dueX] = [x(link.start), x(link.due)];
    return {
      key: `${index} ${link.id}`,
      y: TOP + index * ROW,
      label: link.code,
      detail: detailOf(link),
      indent: depth * INDENT,
      itemId: link.itemId,
      critical,
      x: stock ? x(today) : startX,
      width: stock ? 5 : Math.max(3, dueX - startX),
      lateX: dueX,
      lateWidth: link.ready !== null && link.ready > link.due ? x(link.ready) - dueX : 0,
      kind: stock ? 'stock' : link.kind === 'receipt' ? 'ordered' : 'suggested',
      words: `${link.code} ${link.description}: ${detailOf(link)}, from ${longDay(link.start)}, ${link.ready === null ? 'without all that it needs' : `there ${longDay(link.ready)}`}, needed ${longDay(link.wanted)}`,
    };
  });
  const weeks: { x: number; words: string }[] = [];
  for (let day = first; day <= last; day += 1) if (weekdayOf(day) === 1) weeks.push({ x: x(dateOf(day)), words: shortDay(dateOf(day)) });
  const step = Math.max(1, Math.ceil((weeks.length * WEEK_WORDS) / width));
  return {
    ...line,
    late: line.ready === null || line.ready > line.wanted,
    verdict: verdictOf(line),
    bars,
    wantedX: x(line.wanted),
    height: TOP + bars.length * ROW + 4,
    weeks: weeks.filter((_, index) => index % step === 0),
  };
}

function verdictOf({ ready, wanted }: Line): string {
  if (ready === null) return `Wanted on ${longDay(wanted)}; a part of it has no supply at all.`;
  return ready > wanted ? `Wanted on ${longDay(wanted)}, can be ready on ${longDay(ready)}.` : `Wanted on ${longDay(wanted)}: can be kept.`;
}

function detailOf(peg: PegView): string {
  const figure = `${grouped(peg.quantity)} ${peg.unit}`;
  if (peg.kind === 'stock') return `${figure} in stock`;
  return peg.kind === 'receipt' ? `${figure} by ${peg.id}` : `${peg.source ?? ''} ${figure}`;
}
