/** What stands at the head and the foot of every paper. */
import type { Store } from './database';
import { companyOf, settingOf } from './settings';

export interface Letterhead {
  readonly company: string;
  readonly address: readonly string[];
  /** Such as bank and register, at the foot of every page. */
  readonly foot: string;
  /** A picture as a data address; none where the house has none. */
  readonly logo: string | null;
}

/** The letterhead of the company. */
export function letterheadOf(store: Store): Letterhead {
  const lines = (settingOf(store, 'address') ?? '').split('\n').map((line) => line.trim());
  return {
    company: companyOf(store),
    address: lines.filter((line) => line !== ''),
    foot: settingOf(store, 'foot') ?? '',
    logo: settingOf(store, 'logo'),
  };
}
