/** How figures and days are written and read: by country, or as somebody likes it. */

export interface Habit {
  /** An example, for people to choose by. */
  readonly shown: string;
  readonly decimal: '.' | ',';
  /** Between thousands. */
  readonly group: string;
  /** Whether the month stands before the day. */
  readonly monthFirst: boolean;
}

export const habits = {
  point: { shown: '1,234.56 · 12 Mar', decimal: '.', group: ',', monthFirst: false },
  comma: { shown: '1.234,56 · 12 Mar', decimal: ',', group: '.', monthFirst: false },
  space: { shown: '1 234,56 · 12 Mar', decimal: ',', group: '\u202f', monthFirst: false },
  apostrophe: { shown: '1’234.56 · 12 Mar', decimal: '.', group: '’', monthFirst: false },
  monthFirst: { shown: '1,234.56 · Mar 12', decimal: '.', group: ',', monthFirst: true },
} as const satisfies Readonly<Record<string, Habit>>;

export type HabitName = keyof typeof habits;
export const habitNames = Object.keys(habits) as [HabitName, ...HabitName[]];

const BY_COUNTRY: Readonly<Record<string, HabitName>> = {
  AT: 'comma',
  BE: 'comma',
  CH: 'apostrophe',
  DE: 'comma',
  DK: 'comma',
  ES: 'comma',
  FR: 'space',
  IT: 'comma',
  NL: 'comma',
  PL: 'space',
  PT: 'space',
  SE: 'space',
  US: 'monthFirst',
};

/**
 * What a country is used to; where nothing is known of it, the point.
 *
 * @param country ISO 3166-1, two letters
 * @example habitOf('CH') // 'apostrophe'
 */
export function habitOf(country: string): HabitName {
  return BY_COUNTRY[country] ?? 'point';
}

const FIGURE = /^(-?)(\d+)(?:\.(\d+))?$/;

/**
 * A decimal as it is written by habit, with every decimal that it has; what is no decimal stays as it is.
 *
 * @example writeByHabit('-1234.50', habits.comma) // '−1.234,50'
 */
export function writeByHabit(text: string, { decimal, group }: Habit): string {
  const [, sign = '', whole, fraction] = FIGURE.exec(text) ?? [];
  if (whole === undefined) return text;
  const digits = whole.replace(/\B(?=(\d{3})+$)/g, group);
  return `${sign === '' ? '' : '−'}${digits}${fraction === undefined ? '' : `${decimal}${fraction}`}`;
}
