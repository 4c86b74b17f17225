/** Larkmoor Apiary Works: what it stands on. Made up, like everybody and everything in it. */
import type { BodyOf, api } from '@terrace/contract';
import { type Role } from '@terrace/contract';
import { standardTerms } from '@terrace/core';

export const COMPANY = 'Larkmoor Apiary Works';
export const PASSWORD = 'larkmoor';

export const PEOPLE: readonly { login: string; name: string; role: Role }[] = [
  { login: 'maren', name: 'Maren Oakhollow', role: 'manager' },
  { login: 'tobin', name: 'Tobin Reedmace', role: 'sales' },
  { login: 'isolde', name: 'Isolde Farrowby', role: 'buyer' },
  { login: 'quill', name: 'Quill Hathersedge', role: 'storekeeper' },
  { login: 'perrin', name: 'Perrin Dovecote', role: 'viewer' },
  { login: 'wilder', name: 'Wilder Ashgrove', role: 'administrator' },
];

type Ground = BodyOf<typeof api.catalogue.setUp>;

/** Units, calendar, groups, warehouses, reasons and accounts; holidays fall around the given year. */
export function groundFor(year: number): Ground {
  const group = (
    code: string,
    name: string,
    parent: string | null,
    inventoryAccount: string,
    costOfSalesAccount: string,
    revenueAccount: string,
    defaults: Record<string, string>,
    planning: Ground['groups'][number]['planning'] = {},
  ): Ground['groups'][number] => ({ code, name, parent, inventoryAccount, costOfSalesAccount, revenueAccount, defaults, planning });
  return {
    accounts: [
      ['1000', 'Bank and cash'],
      ['1010', 'Cash in drawers'],
      ['1200', 'Receivables'],
      ['1410', 'Stock of materials'],
      ['1420', 'Stock of made parts'],
      ['1430', 'Stock of goods to sell'],
      ['1500', 'Work in process'],
      ['2100', 'Goods received not invoiced'],
      ['2110', 'Late costs to be invoiced'],
      ['2200', 'Paid ahead by customers'],
      ['2300', 'Sales tax'],
      ['3000', 'Opening balance'],
      ['4010', 'Sales of own products'],
      ['4020', 'Sales of bought goods'],
      ['4030', 'Services and charges'],
      ['4040', 'Let off for early payment'],
      ['4050', 'Exchange gains'],
      ['5010', 'Cost of own products sold'],
      ['5020', 'Cost of bought goods sold'],
      ['5100', 'Cost differences'],
      ['5200', 'Change of standard costs'],
      ['5300', 'Production variance'],
      ['5400', 'Breakage and loss'],
      ['5410', 'Samples and displays'],
      ['5420', 'Cash over and short'],
      ['5430', 'Exchange losses'],
    ].map(([code = '', name = '']) => ({ code, name })),
    units: [
      { code: 'each', name: 'each', decimals: 0 },
      { code: 'm', name: 'metre', decimals: 2 },
      { code: 'kg', name: 'kilogram', decimals: 3 },
      { code: 'hour', name: 'hour', decimals: 2 },
    ],
    calendars: [
      {
        code: 'STD',
        workdays: [1, 2, 3, 4, 5],
        holidays: [year - 1, year, year + 1].flatMap((each) => [`${each}-01-01`, `${each}-05-01`, `${each}-12-24`, `${each}-12-25`, `${each}-12-26`]),
        shifts: 'Early Mon-Fri 06:00-14:00\nLate Mon-Thu 14:00-22:00',
      },
    ],
    groups: [
      group(
        'ALL',
        'Everything',
        null,
        '1430',
        '5020',
        '4020',
        {
          kind: 'stocked',
          unit: 'each',
          costing: 'movingAverage',
          tracking: 'none',
          storageOverhead: '12',
        },
        { slackDays: '2' },
      ),
      group('MATERIAL', 'Materials', 'ALL', '1410', '5020', '4020', { storageOverhead: '8' }),
      group('PART', 'Made parts', 'ALL', '1420', '5010', '4010', {}),
      group('PRODUCT', 'Own products', 'ALL', '1430', '5010', '4010', { discountCeiling: '15' }),
      group('GOODS', 'Bought goods', 'ALL', '1430', '5020', '4020', { discountCeiling: '20' }),
      group('WEAR', 'Clothing', 'GOODS', '1430', '5020', '4020', { discountCeiling: '25', planning: 'buy in DEPOT' }, { slackDays: '3' }),
      group('TREAT', 'Treatments', 'GOODS', '1430', '5020', '4020', { shelfLifeDays: '540', restLifeDays: '120', discountCeiling: '5' }),
      group('CHARGE', 'Services and charges', 'ALL', '1430', '5020', '4030', {}),
    ],
    currencies: [
      { code: 'EUR', name: 'Euro' },
      { code: 'GBP', name: 'Pound sterling' },
      { code: 'USD', name: 'US dollar' },
    ],
    customerGroups: [
      { code: 'SHOPS', name: 'Farm shops and country stores' },
      { code: 'CENTRES', name: 'Garden centres' },
      { code: 'KEEPERS', name: 'Beekeepers and growers' },
      { code: 'PUBLIC', name: 'Schools and foundations' },
    ],
    paymentTerms: standardTerms.map((each) => ({ ...each })),
    taxCodes: [
      { code: 'FULL', name: 'Full rate', rate: 2000 },
      { code: 'FREE', name: 'Free of tax', rate: 0 },
    ],
    reasons: [
      { code: 'OPENING', name: 'Opening stock', account: '3000', noteNeeded: false },
      { code: 'BREAKAGE', name: 'Breakage', account: '5400', noteNeeded: true },
      { code: 'FOUND', name: 'Found again', account: '5400', noteNeeded: false },
      { code: 'SAMPLE', name: 'Given as a sample', account: '5410', noteNeeded: false },
      { code: 'TRANSIT', name: 'Lost on the way', account: '5400', noteNeeded: true },
      { code: 'BACK', name: 'Came back from a customer', account: '5010', noteNeeded: true },
    ],
    warehouses: [
      { code: 'WORKS', name: 'Works, Larkmoor', calendar: 'STD', bins: ['A-01', 'A-02', 'B-01', 'B-02', 'DOCK'], dock: 'DOCK' },
      { code: 'DEPOT', name: 'Depot, Fennbridge', calendar: 'STD', bins: ['F-01', 'F-02', 'DOCK'], dock: 'DOCK' },
    ],
  };
}

export const CUSTOMERS: readonly {
  code: string;
  name: string;
  address: string;
  /** What they pay in, if not in the currency of the books. */
  currency?: string;
  paymentDays: number;
  paymentTerm?: string;
  /** By whom it goes, as a rule. */
  carrier?: string;
  taxCode: string;
  group: string;
  addresses?: { label: string; address: string }[];
}[] = [
  { code: 'HOLLIN', name: 'Hollin Lane Farm Shop', address: 'Hollin Lane 4\nNether Wickden', paymentDays: 14, taxCode: 'FULL', group: 'SHOPS' },
  {
    code: 'BRACKEN',
    name: 'Bracken & Daughters Garden Centre',
    address: 'Old Mill Road 18\nStowbeck',
    paymentDays: 30,
    taxCode: 'FULL',
    group: 'CENTRES',
    addresses: [
      { label: 'Fennbridge shop', address: 'Mill Parade 3\nFennbridge' },
      { label: 'Yard', address: 'Old Mill Road 22, gate 2\nStowbeck' },
    ],
  },
  {
    code: 'MEADCOOP',
    name: 'Meadowside Beekeepers’ Co-operative',
    currency: 'GBP',
    address: 'Market Square 2\nFennbridge',
    paymentDays: 30,
    taxCode: 'FULL',
    group: 'KEEPERS',
  },
  { code: 'THORNE', name: 'Thornhallow School', address: 'Church Walk 1\nThornhallow', paymentDays: 30, taxCode: 'FREE', group: 'PUBLIC' },
  { code: 'SALLOW', name: 'Sallow Fen Honey', address: 'Drove End\nSallow Fen', paymentDays: 14, taxCode: 'FULL', group: 'KEEPERS' },
  { code: 'CORBY', name: 'Corbel Hill Orchards', address: 'Corbel Hill 7\nUpper Stowbeck', paymentDays: 30, taxCode: 'FULL', group: 'KEEPERS' },
  {
    code: 'LINNET',
    name: 'Linnet Vale Garden Centre',
    address: 'Ring Road 55\nLinnet Vale',
    paymentDays: 30,
    paymentTerm: 'EARLY',
    carrier: 'Moorland Parcels',
    taxCode: 'FULL',
    group: 'CENTRES',
  },
  { code: 'TARN', name: 'Tarnside Apiaries', address: 'Tarnside 12\nHigh Cragley', paymentDays: 14, taxCode: 'FULL', group: 'KEEPERS' },
  { code: 'WICKET', name: 'Wicket Gate Country Store', address: 'Wicket Gate 3\nLarkmoor', paymentDays: 14, taxCode: 'FULL', group: 'SHOPS' },
  { code: 'ELDER', name: 'Elderwick Abbey Gardens', address: 'The Abbey\nElderwick', paymentDays: 30, taxCode: 'FREE', group: 'PUBLIC' },
];

export const SUPPLIERS: readonly { code: string; name: string; address: string; email: string; paymentDays: number }[] = [
  { code: 'TIMBER', name: 'Cragley Timber Yard', address: 'Quarry Road 9\nHigh Cragley', email: 'orders@cragley-timber.example', paymentDays: 30 },
  { code: 'METAL', name: 'Ironbeck Metalworks', address: 'Forge Lane 22\nIronbeck', email: 'sales@ironbeck.example', paymentDays: 30 },
  { code: 'WAX', name: 'Southmere Wax Traders', address: 'Harbour 4\nSouthmere', email: 'desk@southmere-wax.example', paymentDays: 14 },
  { code: 'GLASS', name: 'Vessel & Lid Glassware', address: 'Canal Street 40\nPottersford', email: 'orders@vessel-lid.example', paymentDays: 45 },
  { code: 'OUTFIT', name: 'Heatherwear Workshop', address: 'Weavers Row 6\nLoomham', email: 'hello@heatherwear.example', paymentDays: 30 },
  { code: 'DRIVE', name: 'Gearholt Drives', address: 'Works Park 3\nGearholt', email: 'export@gearholt.example', paymentDays: 30 },
];
