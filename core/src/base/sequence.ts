/** Numbers of documents. */

export interface Numbering {
  /** What stands before: capital letters and figures. */
  readonly prefix: string;
  /** Figures that the running number has at least. */
  readonly width: number;
  /** Whether it begins anew each year, with the year before it. */
  readonly byYear: boolean;
}

/** What numbers that run together have in common. @example stemOf({ prefix: 'INV', width: 4, byYear: true }, '2027-03-01') // 'INV-2027' */
export function stemOf({ prefix, byYear }: Numbering, date: string): string {
  return byYear ? `${prefix}-${date.slice(0, 4)}` : prefix;
}

/**
 * The number of a document: what it has in common with its like, and a running number.
 *
 * @param stem as {@link stemOf} gives it
 * @param running a whole number from 1
 * @param width figures at least; longer numbers stay whole
 * @example documentNumber('INV-2027', 17) // 'INV-2027-0017'
 */
export function documentNumber(stem: string, running: number, width = 4): string {
  return `${stem}-${running.toString().padStart(width, '0')}`;
}
