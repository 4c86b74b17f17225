/** What a company stands on before it has said anything of its own: accounts, units, groups and reasons by plain names. */

/** Accounts that everything that is posted finds a place on; a company names and numbers them as its books do. */
export const standardAccounts: readonly { readonly code: string; readonly name: string }[] = [
  { code: '1000', name: 'Bank and cash' },
  { code: '1010', name: 'Cash in drawers' },
  { code: '1200', name: 'Receivables' },
  { code: '1410', name: 'Stock of materials' },
  { code: '1420', name: 'Stock of made parts' },
  { code: '1430', name: 'Stock of goods to sell' },
  { code: '1500', name: 'Work in process' },
  { code: '2100', name: 'Goods received not invoiced' },
  { code: '2110', name: 'Late costs to be invoiced' },
  { code: '2200', name: 'Paid ahead by customers' },
  { code: '2300', name: 'Sales tax' },
  { code: '3000', name: 'Opening balance' },
  { code: '4010', name: 'Sales of own products' },
  { code: '4020', name: 'Sales of bought goods' },
  { code: '4030', name: 'Services and charges' },
  { code: '4040', name: 'Let off for early payment' },
  { code: '4050', name: 'Exchange gains' },
  { code: '5010', name: 'Cost of own products sold' },
  { code: '5020', name: 'Cost of bought goods sold' },
  { code: '5100', name: 'Cost differences' },
  { code: '5200', name: 'Change of standard costs' },
  { code: '5300', name: 'Production variance' },
  { code: '5400', name: 'Breakage and loss' },
  { code: '5410', name: 'Samples and displays' },
  { code: '5420', name: 'Cash over and short' },
  { code: '5430', name: 'Exchange losses' },
];

/** Units with the decimals that quantities in them have. */
export const standardUnits: readonly { readonly code: string; readonly name: string; readonly decimals: number }[] = [
  { code: 'each', name: 'each', decimals: 0 },
  { code: 'm', name: 'metre', decimals: 2 },
  { code: 'kg', name: 'kilogram', decimals: 3 },
  { code: 'hour', name: 'hour', decimals: 2 },
];

/** Why stock is adjusted, each with the account that it goes on. */
export const standardReasons: readonly { readonly code: string; readonly name: string; readonly account: string; readonly noteNeeded: boolean }[] = [
  { code: 'OPENING', name: 'Opening stock', account: '3000', noteNeeded: false },
  { code: 'BREAKAGE', name: 'Breakage', account: '5400', noteNeeded: true },
  { code: 'FOUND', name: 'Found again', account: '5400', noteNeeded: false },
  { code: 'SAMPLE', name: 'Given as a sample', account: '5410', noteNeeded: false },
  { code: 'TRANSIT', name: 'Lost on the way', account: '5400', noteNeeded: true },
  { code: 'BACK', name: 'Came back from a customer', account: '5010', noteNeeded: true },
];

export interface StandardGroup {
  readonly code: string;
  readonly name: string;
  readonly parent: string | null;
  readonly inventoryAccount: string;
  readonly costOfSalesAccount: string;
  readonly revenueAccount: string;
  /** Whether its items are bought or made, where nothing else is said. */
  readonly source: 'buy' | 'make' | null;
  readonly defaults: Readonly<Record<string, string>>;
}

/** Groups of items by where they come from, with the accounts that follow from that; each passes on what it has from the one above. */
export const standardGroups: readonly StandardGroup[] = [
  {
    code: 'ALL',
    name: 'Everything',
    parent: null,
    source: null,
    inventoryAccount: '1430',
    costOfSalesAccount: '5020',
    revenueAccount: '4020',
    defaults: { kind: 'stocked', unit: 'each', costing: 'movingAverage', tracking: 'none', storageOverhead: '0' },
  },
  ...(
    [
      ['MATERIAL', 'Materials', '1410', '5020', '4020', 'buy'],
      ['PART', 'Made parts', '1420', '5010', '4010', 'make'],
      ['PRODUCT', 'Own products', '1430', '5010', '4010', 'make'],
      ['GOODS', 'Bought goods', '1430', '5020', '4020', 'buy'],
      ['CHARGE', 'Services and charges', '1430', '5020', '4030', null],
    ] as const
  ).map(([code, name, inventoryAccount, costOfSalesAccount, revenueAccount, source]) => ({
    code,
    name,
    parent: 'ALL',
    source,
    inventoryAccount,
    costOfSalesAccount,
    revenueAccount,
    defaults: {},
  })),
];

/** Payment terms that many companies have; `discount` in basis points. */
export const standardTerms = [
  { code: 'NOW', name: 'At once', days: 0, fromMonthEnd: false, discountDays: 0, discount: 0, active: true },
  { code: 'NET14', name: '14 days', days: 14, fromMonthEnd: false, discountDays: 0, discount: 0, active: true },
  { code: 'NET30', name: '30 days', days: 30, fromMonthEnd: false, discountDays: 0, discount: 0, active: true },
  { code: 'EARLY', name: '30 days, less when early', days: 30, fromMonthEnd: false, discountDays: 10, discount: 200, active: true },
] as const;
