// What a bench measures, said figure by figure: printed at once, and kept for the table of all of them (scripts/bench.mjs).
import { appendFileSync } from 'node:fs';

/** The short form: little of everything, to see that a bench runs and that nothing is far from its aim. */
export const short = process.env.BENCH_SHORT === '1';

/** How much of something is measured: as it is asked for, less in the short form, or what the setting of that name says. */
export function sized(long, few, setting) {
  const asked = setting === undefined ? undefined : process.env[setting];
  return asked === undefined ? (short ? few : long) : Number(asked);
}

/**
 * One figure. `most` or `least` is its aim; `unit` is what stands behind it. A figure whose aim is of the full size only says so by `long`.
 *
 * figure('orders: first page, ratio to bare SQL', 1.4, { most: 1.5 });
 */
export function figure(name, value, { unit = '', most, least, digits = 2, long = false } = {}) {
  const said = { name, value, unit, most, least, digits, long };
  process.stdout.write(`  ${name.padEnd(70)} ${textOf(said)}   ${aimOf(said)}\n`);
  if (process.env.BENCH_FIGURES !== undefined) appendFileSync(process.env.BENCH_FIGURES, `${JSON.stringify(said)}\n`);
}

export const textOf = ({ value, digits, unit }) =>
  `${value.toLocaleString('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits })}${unit === '' ? '' : ` ${unit}`}`;

export function aimOf({ most, least }) {
  if (most !== undefined) return `at most ${most}`;
  return least !== undefined ? `at least ${least}` : '';
}

/** How many times worse than its aim a figure is; 1 where it is as asked or better. */
export function worse({ value, most, least }) {
  if (most !== undefined) return Math.max(1, value / most);
  return least !== undefined ? Math.max(1, least / value) : 1;
}
