/** Founding a company: on an empty folder, once, by whoever reads the server's console. */
import { randomBytes } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { standardRoles, type BodyOf, type api } from '@terrace/contract';
import {
  FoundingCode,
  Refusal,
  codeFrom,
  countryOf,
  holidaysIn,
  normalLogin,
  standardAccounts,
  standardGroups,
  standardReasons,
  standardTerms,
  standardUnits,
} from '@terrace/core';
import { HOUSE_TAX, setUpGround } from '../catalogue';
import type { Store } from '../platform/database';
import { isPassword } from '../platform/passwords';
import { query } from '../platform/query';
import { user } from '../platform/schema';
import { isFounded } from '../platform/who';
import { keepSetting } from '../platform/settings';
import type { Work } from '../platform/work';
import { addPerson } from './people';
import { roleCalled, setUpRoles } from './roles';

const RULE = { tries: 5, lastsMs: 3_600_000 };
const byLogin = query(($: { login: string }) => (db) => db.select({ passwordHash: user.passwordHash }).from(user).where(eq(user.login, $.login)));

/** A fresh code to found a company by. */
export function freshCode(): FoundingCode {
  return new FoundingCode(codeFrom(randomBytes(64)), Date.now(), RULE);
}

/** The first warehouse, until it is given another name. */
const MAIN = 'MAIN';

const AGAIN = 'Start the server again: it shows a new one.';
const WHY: Readonly<Record<Exclude<ReturnType<FoundingCode['state']>, 'good'>, string>> = {
  used: `The code was used already. ${AGAIN}`,
  triedTooOften: `The code was tried too often. ${AGAIN}`,
  over: `The code has ended: it lasts an hour. ${AGAIN}`,
};

/** Refuses `wrongCode` where what was typed is not the code, or the code is good no more. */
export function assertOpens(code: FoundingCode | null, typed: string): void {
  const now = Date.now();
  const details = { field: 'code' };
  if (!code) throw new Refusal('wrongCode', `There is no code to found a company by. ${AGAIN}`, details);
  if (code.opens(typed, now)) return;
  const state = code.state(now);
  if (state !== 'good') throw new Refusal('wrongCode', WHY[state], details);
  const left = code.left();
  throw new Refusal('wrongCode', `This is not the code on the server’s console. ${left} ${left === 1 ? 'try is' : 'tries are'} left.`, details);
}

type Founding = BodyOf<typeof api.setup.found>;

/** Refuses `unknownTimeZone`, where what follows would not know which day it is. */
export function assertTimeZone(timeZone: string): void {
  try {
    new Intl.DateTimeFormat('en', { timeZone });
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new Refusal('unknownTimeZone', `“${timeZone}” is no time zone: they are named like Europe/Vienna.`, { field: 'timeZone' });
  }
}

/** Whether the company was founded by just this: its administrator has this name and password. Whoever lost the answer asks again. */
export async function wasFoundedBy(store: Store, { login, password }: Founding): Promise<boolean> {
  const kept = byLogin.one({ store }, { login: normalLogin(login) })?.passwordHash ?? '';
  return kept !== '' && (await isPassword(kept, password));
}

/** Founds the company: what it is, what it stands on, and who looks after it. Refuses `founded`. */
export function found(work: Work, input: Founding, passwordHash: string): { readonly login: string } {
  if (isFounded(work.store)) throw new Refusal('founded', 'The company is founded: sign in, or ask whoever did it.');
  assertTimeZone(input.timeZone);
  const { store } = work;
  keepSetting(store, 'company', input.company);
  keepSetting(store, 'address', input.address);
  keepSetting(store, 'country', input.country);
  keepSetting(store, 'currency', input.currency.code);
  keepSetting(store, 'timeZone', input.timeZone);
  setUpRoles(work);
  const roleId = roleCalled(work, standardRoles.administrator.name) ?? 0;
  addPerson(work, { name: input.name, login: input.login, email: '', roles: [{ roleId, warehouses: null }] }, passwordHash);
  const country = countryOf(input.country);
  const taxes = country?.taxes ?? [{ code: 'FREE', name: 'Free of tax', rate: 0 }];
  const [{ code: houseTax } = { code: '' }] = taxes;
  if (houseTax !== '') keepSetting(store, HOUSE_TAX, houseTax);
  const year = Number(work.today.slice(0, 4));
  setUpGround(work, {
    accounts: [...standardAccounts],
    units: [...standardUnits],
    calendars: [
      {
        code: 'STD',
        workdays: [...(country?.workdays ?? [1, 2, 3, 4, 5])],
        holidays: holidaysIn(country?.holidays ?? ['01-01'], [year, year + 1, year + 2]),
        shifts: '',
      },
    ],
    groups: standardGroups.map(({ source, defaults, ...each }) => ({
      ...each,
      defaults: source === null ? { ...defaults } : { ...defaults, planning: `${source} in ${MAIN}` },
      planning: {},
    })),
    currencies: [input.currency],
    customerGroups: [],
    taxCodes: [...taxes],
    paymentTerms: [...standardTerms],
    reasons: [...standardReasons],
    warehouses: [{ code: MAIN, name: 'Main warehouse', calendar: 'STD', bins: ['DOCK'], dock: 'DOCK' }],
  });
  work.record('setup', 0, `founded ${input.company}`);
  return { login: normalLogin(input.login) };
}
