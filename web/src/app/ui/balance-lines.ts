/** Where the lines of the projected balance run, in the units of the drawing. */
import type { BalanceStrip } from '@terrace/contract';
import { dateOf, dayOf } from '@terrace/core';
import { grouped, longDay, shortDay } from './format';

/** Room for the levels' words, and around the lines. */
export const LEFT = 44;
export const RIGHT = 12;
const TOP = 12;
const BOTTOM = 16;
/** Room that the words of a week take. */
const WEEK_WORDS = 52;
const LINE_OF_WORDS = 11;

export interface Mark {
  readonly x: number;
  readonly y: number;
  readonly kind: 'supply' | 'demand';
  readonly firm: boolean;
  readonly path: string;
  readonly words: string;
}

export interface BalanceLines {
  /** What is on order alone. */
  readonly balance: string;
  /** With what the plan suggests; `null` where it suggests nothing. */
  readonly planned: string | null;
  readonly zero: string;
  readonly safety: string | null;
  /** Between the safety level (or nothing) and the balance, wherever that is lower. */
  readonly short: string | null;
  readonly weeks: readonly { readonly x: number; readonly words: string }[];
  readonly levels: readonly { readonly y: number; readonly words: string }[];
  readonly marks: readonly Mark[];
}

/** Draws a balance from today through its last day, in a box of this size. */
export function drawBalance(strip: BalanceStrip, width: number, height: number): BalanceLines {
  const { events, available, safety } = strip;
  const values = [0, Number(available), Number(safety), ...events.flatMap((event) => [Number(event.balance), Number(event.planned)])];
  const [low, high] = [Math.min(...values), Math.max(...values, 1)];
  const end = width - RIGHT;
  const first = dayOf(strip.today);
  const span = dayOf(strip.through) - first;
  const x = (date: string): number => LEFT + ((dayOf(date) - first) / span) * (end - LEFT);
  const y = (value: number): number => TOP + ((high - value) / (high - low || 1)) * (height - TOP - BOTTOM);
  const firm = events.filter((event) => event.firm);
  const line = (of: 'balance' | 'planned', along: BalanceStrip['events']): string =>
    `M${LEFT} ${y(Number(available))}${along.map((event) => `H${x(event.date)}V${y(Number(event[of]))}`).join('')}H${end}`;

  const level = Number(safety);
  const steps = [{ at: LEFT, value: Number(available) }, ...firm.map((event) => ({ at: x(event.date), value: Number(event.balance) }))];
  const short = steps.flatMap((step, index) => {
    const until = steps[index + 1]?.at ?? end;
    return step.value < level && until > step.at ? [`M${step.at} ${y(level)}H${until}V${y(step.value)}H${step.at}Z`] : [];
  });

  // As many whole weeks apart as leave room for the words.
  const every = 7 * Math.max(1, Math.ceil(WEEK_WORDS / ((end - LEFT) / (span / 7))));
  const weeks = Array.from({ length: Math.floor(span / every) }, (_, index) => dateOf(first + index * every));
  const texts = low < 0 ? [low, 0, high] : [0, high];
  return {
    balance: line('balance', firm),
    planned: firm.length < events.length ? line('planned', events) : null,
    zero: `M${LEFT} ${y(0)}H${end}`,
    safety: safety === '0' ? null : `M${LEFT} ${y(level)}H${end}`,
    short: short.length === 0 ? null : short.join(''),
    weeks: weeks.map((date) => ({ x: x(date), words: shortDay(date) })),
    levels: texts
      .map((value) => ({ y: y(value), words: grouped(String(Math.round(value))) }))
      .filter((each, index, all) => index === 0 || Math.abs(each.y - (all[index - 1]?.y ?? 0)) > LINE_OF_WORDS),
    marks: events.map((event) => markOf(event, x(event.date), y(Number(event.firm ? event.balance : event.planned)))),
  };
}

/** Supply points up and sits on the line, demand points down and hangs from it. */
function markOf(event: BalanceStrip['events'][number], x: number, y: number): Mark {
  const up = event.kind === 'supply';
  const balance = grouped(event.firm ? event.balance : event.planned);
  return {
    x,
    y,
    kind: event.kind,
    firm: event.firm,
    path: up ? `M${x - 4} ${y - 2}h8l-4 -7z` : `M${x - 4} ${y + 2}h8l-4 7z`,
    words: `${longDay(event.date)}: ${up ? '+' : '−'}${grouped(event.quantity)} ${event.document}${event.firm ? '' : ' (suggested)'}, then ${balance}`,
  };
}
