/** What screens call what is open, how old it is, and the steps of reminding. */
import type { AgeBand } from '@terrace/core';

export const BAND_WORDS: Readonly<Record<AgeBand, string>> = {
  notDue: 'not due yet',
  to30: 'to 30 days late',
  to60: '31 to 60 days',
  to90: '61 to 90 days',
  older: 'longer',
};
/** Above columns. */
export const BAND_TITLES: Readonly<Record<AgeBand, string>> = {
  notDue: 'Not due',
  to30: '1–30 days',
  to60: '31–60 days',
  to90: '61–90 days',
  older: 'Over 90',
};
export const MOVED_WORDS = { invoice: 'Invoice', credit: 'Credit note', payment: 'Payment', letOff: 'Let off, paid early' } as const;
/** By step; none for none. */
export const REMINDED_WORDS = ['', 'reminded', 'reminded twice', 'reminded for the last time'] as const;
