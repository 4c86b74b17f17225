/** What a company finds proposed for its country; all of it is changed as it likes afterwards. */

export interface CountryProposal {
  /** ISO 3166-1, two letters. */
  readonly code: string;
  readonly name: string;
  /** ISO 4217, three letters, and what it is called. */
  readonly currency: { readonly code: string; readonly name: string };
  /** IANA time zone of its capital. */
  readonly timeZone: string;
  /** Rates in basis points, the usual one first. */
  readonly taxes: readonly { readonly code: string; readonly name: string; readonly rate: number }[];
  /** Days of the week that are worked: 1 for Monday to 7 for Sunday. */
  readonly workdays: readonly number[];
  /** Public holidays that fall on the same day every year, as MM-DD. */
  readonly holidays: readonly string[];
}

const WEEK = [1, 2, 3, 4, 5];
const EURO = { code: 'EUR', name: 'Euro' };
const FREE = { code: 'FREE', name: 'Free of tax', rate: 0 };

function taxes(full: number, ...reduced: readonly number[]): CountryProposal['taxes'] {
  const words = ['Reduced rate', 'Second reduced rate', 'Third reduced rate'];
  return [
    { code: 'FULL', name: 'Full rate', rate: full },
    ...reduced.map((rate, index) => ({ code: index === 0 ? 'REDUCED' : `REDUCED${index + 1}`, name: words[index] ?? 'Reduced rate', rate })),
    FREE,
  ];
}

/**
 * Countries with a proposal, by name. Rates of value added tax as of 2026; a company checks them when it is founded.
 *
 * @source ISO 3166-1, ISO 4217, the IANA time zone database; rates and fixed public holidays from each country's law.
 */
export const countries: readonly CountryProposal[] = [
  {
    code: 'AT',
    name: 'Austria',
    currency: EURO,
    timeZone: 'Europe/Vienna',
    taxes: taxes(2000, 1000, 1300),
    workdays: WEEK,
    holidays: ['01-01', '01-06', '05-01', '08-15', '10-26', '11-01', '12-08', '12-25', '12-26'],
  },
  {
    code: 'BE',
    name: 'Belgium',
    currency: EURO,
    timeZone: 'Europe/Brussels',
    taxes: taxes(2100, 1200, 600),
    workdays: WEEK,
    holidays: ['01-01', '05-01', '07-21', '08-15', '11-01', '11-11', '12-25'],
  },
  {
    code: 'DK',
    name: 'Denmark',
    currency: { code: 'DKK', name: 'Danish krone' },
    timeZone: 'Europe/Copenhagen',
    taxes: taxes(2500),
    workdays: WEEK,
    holidays: ['01-01', '12-25', '12-26'],
  },
  {
    code: 'FR',
    name: 'France',
    currency: EURO,
    timeZone: 'Europe/Paris',
    taxes: taxes(2000, 1000, 550),
    workdays: WEEK,
    holidays: ['01-01', '05-01', '05-08', '07-14', '08-15', '11-01', '11-11', '12-25'],
  },
  {
    code: 'DE',
    name: 'Germany',
    currency: EURO,
    timeZone: 'Europe/Berlin',
    taxes: taxes(1900, 700),
    workdays: WEEK,
    holidays: ['01-01', '05-01', '10-03', '12-25', '12-26'],
  },
  {
    code: 'IE',
    name: 'Ireland',
    currency: EURO,
    timeZone: 'Europe/Dublin',
    taxes: taxes(2300, 1350, 900),
    workdays: WEEK,
    holidays: ['01-01', '03-17', '12-25', '12-26'],
  },
  {
    code: 'IT',
    name: 'Italy',
    currency: EURO,
    timeZone: 'Europe/Rome',
    taxes: taxes(2200, 1000, 500),
    workdays: WEEK,
    holidays: ['01-01', '01-06', '04-25', '05-01', '06-02', '08-15', '11-01', '12-08', '12-25', '12-26'],
  },
  {
    code: 'NL',
    name: 'Netherlands',
    currency: EURO,
    timeZone: 'Europe/Amsterdam',
    taxes: taxes(2100, 900),
    workdays: WEEK,
    holidays: ['01-01', '04-27', '12-25', '12-26'],
  },
  {
    code: 'PL',
    name: 'Poland',
    currency: { code: 'PLN', name: 'Polish zloty' },
    timeZone: 'Europe/Warsaw',
    taxes: taxes(2300, 800, 500),
    workdays: WEEK,
    holidays: ['01-01', '01-06', '05-01', '05-03', '08-15', '11-01', '11-11', '12-24', '12-25', '12-26'],
  },
  {
    code: 'ES',
    name: 'Spain',
    currency: EURO,
    timeZone: 'Europe/Madrid',
    taxes: taxes(2100, 1000, 400),
    workdays: WEEK,
    holidays: ['01-01', '01-06', '05-01', '08-15', '10-12', '11-01', '12-06', '12-08', '12-25'],
  },
  {
    code: 'SE',
    name: 'Sweden',
    currency: { code: 'SEK', name: 'Swedish krona' },
    timeZone: 'Europe/Stockholm',
    taxes: taxes(2500, 1200, 600),
    workdays: WEEK,
    holidays: ['01-01', '01-06', '05-01', '06-06', '12-25', '12-26'],
  },
  {
    code: 'CH',
    name: 'Switzerland',
    currency: { code: 'CHF', name: 'Swiss franc' },
    timeZone: 'Europe/Zurich',
    taxes: taxes(810, 260, 380),
    workdays: WEEK,
    holidays: ['01-01', '08-01', '12-25'],
  },
  {
    code: 'GB',
    name: 'United Kingdom',
    currency: { code: 'GBP', name: 'Pound sterling' },
    timeZone: 'Europe/London',
    taxes: taxes(2000, 500),
    workdays: WEEK,
    holidays: ['01-01', '12-25', '12-26'],
  },
  {
    code: 'US',
    name: 'United States',
    currency: { code: 'USD', name: 'US dollar' },
    timeZone: 'America/New_York',
    // What is asked differs by state and town: nothing is proposed but what needs no rate.
    taxes: [FREE],
    workdays: WEEK,
    holidays: ['01-01', '06-19', '07-04', '11-11', '12-25'],
  },
];

/** The proposal for a country by its code; nothing where there is none. */
export function countryOf(code: string): CountryProposal | undefined {
  return countries.find((each) => each.code === code);
}

/**
 * The holidays of some years, as dates, in order.
 *
 * @param holidays days of every year, as MM-DD
 * @param years whole numbers, such as 2027
 * @example holidaysIn(['12-25', '01-01'], [2027]) // ['2027-01-01', '2027-12-25']
 */
export function holidaysIn(holidays: readonly string[], years: readonly number[]): string[] {
  return years.flatMap((year) => [...holidays].sort().map((day) => `${year}-${day}`)).sort();
}
