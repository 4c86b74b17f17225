import { customerInput, supplierInput } from '@terrace/contract';
import { changeCustomer, changeSupplier, createCustomer, createSupplier, customerView, supplierView } from '../../catalogue';
import type { Change, Work } from '../../platform/work';
import { Refusal } from '@terrace/core';
import { priceListView } from '../../selling';
import { everyId, idByCode, idCalled, type FileColumn, type FileKind, type Row } from '../kind';
import { ownColumns, ownOf, ownValues } from './items';

const COMMON: readonly FileColumn[] = [
  { key: 'code', title: 'Code', type: 'text', needed: true },
  { key: 'name', title: 'Name', type: 'text', needed: true },
  { key: 'address', title: 'Address', type: 'text' },
  { key: 'email', title: 'Mail', type: 'text', known: ['email', 'e-mail'] },
  { key: 'paymentDays', title: 'Payment days', type: 'whole', known: ['payment terms'] },
  { key: 'currency', title: 'Currency', type: 'text' },
  { key: 'addresses', title: 'More addresses', type: 'text', hint: 'Depot: Ring Road 5, Stowbeck | Shop: …' },
  { key: 'contacts', title: 'Contacts', type: 'text', hint: 'Name, part, mail, phone | …' },
  { key: 'active', title: 'Active', type: 'yesNo' },
];

interface People {
  readonly addresses: readonly { readonly label: string; readonly address: string }[];
  readonly contacts: readonly { readonly name: string; readonly part: string; readonly email: string; readonly phone: string }[];
}

const BREAK = ' / ';

function peopleText({ addresses, contacts }: People): { addresses: string; contacts: string } {
  return {
    addresses: addresses.map((each) => `${each.label}: ${each.address.replaceAll('\n', BREAK)}`).join(' | '),
    contacts: contacts.map((each) => [each.name, each.part, each.email, each.phone].join(', ').replace(/(, )+$/, '')).join(' | '),
  };
}

function peopleFrom(row: Row, before: People): People {
  const parts = (text: string): string[] =>
    text
      .split('|')
      .map((each) => each.trim())
      .filter(Boolean);
  return {
    addresses: row.has('addresses')
      ? parts(row.get('addresses')).map((each) => {
          const at = each.indexOf(':');
          if (at < 1)
            throw new Refusal('badAddress', `"${each}" is no address with a name before it, such as Depot: Ring Road 5.`, { field: 'addresses' });
          return {
            label: each.slice(0, at).trim(),
            address: each
              .slice(at + 1)
              .trim()
              .replaceAll(BREAK, '\n'),
          };
        })
      : before.addresses,
    contacts: row.has('contacts')
      ? parts(row.get('contacts')).map((each) => {
          const [name = '', part = '', email = '', phone = ''] = each.split(',').map((word) => word.trim());
          return { name, part, email, phone };
        })
      : before.contacts,
  };
}

function asInput<T>(
  schema: {
    safeParse: (
      value: unknown,
    ) => { success: true; data: T } | { success: false; error: { issues: readonly { message: string; path: readonly PropertyKey[] }[] } };
  },
  value: unknown,
): T {
  const read = schema.safeParse(value);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw new Refusal('badInput', issue?.message ?? 'It can’t be read.', { field: String(issue?.path[0] ?? '') });
}

type View = People & { readonly id: number; readonly version: number; readonly active: boolean; readonly name: string } & Record<string, unknown>;

function textOf(value: unknown): string {
  return typeof value === 'string' ? value : typeof value === 'number' ? String(value) : value === true ? 'yes' : value === false ? 'no' : '';
}

/** The two kinds of party are one in shape: what differs is their columns and services. */
function partyKind(given: {
  readonly kind: 'customers' | 'suppliers';
  readonly table: 'customer' | 'supplier';
  readonly title: string;
  readonly sample: FileKind['sample'];
  readonly columns: readonly FileColumn[];
  readonly view: (work: Work, id: number) => View;
  /** The file's own columns as the service takes them, over what is there. */
  readonly special: (work: Work, row: Row, before: View | null) => Record<string, unknown>;
  readonly create: (work: Work, input: unknown, what: string) => void;
  readonly change: (work: Work, id: number, input: unknown, what: string) => Change[];
  readonly write: (work: Work, view: View) => Record<string, string>;
}): FileKind {
  const inputFrom = (work: Work, row: Row, code: string, before: View | null): Record<string, unknown> => {
    const text = (key: string, otherwise: string): string => row.or(key, before ? textOf(before[key]) : otherwise);
    return {
      code,
      name: row.or('name', before?.name ?? '') || row.need('name'),
      address: text('address', '').replaceAll(BREAK, '\n'),
      email: text('email', ''),
      paymentDays: Number(text('paymentDays', '30') || '30'),
      currency: text('currency', ''),
      ...peopleFrom(row, before ?? { addresses: [], contacts: [] }),
      custom: ownValues(work, given.table, row),
      ...given.special(work, row, before),
    };
  };
  return {
    kind: given.kind,
    title: given.title,
    sample: given.sample,
    columns: (work) => [...COMMON, ...given.columns, ...ownColumns(work, given.table)],
    take: (work, [row], source) => {
      if (!row) throw new RangeError('no row');
      const code = row.need('code');
      const there = idCalled(work, given.table, code);
      if (there === undefined) {
        given.create(work, inputFrom(work, row, code, null), `set up by ${source}`);
        return { outcome: 'added', name: code, changes: [] };
      }
      const before = given.view(work, there);
      const active = row.has('active') ? row.get('active') === 'yes' : before.active;
      const input = { ...inputFrom(work, row, textOf(before['code']), before), version: before.version, active };
      const changes = given.change(work, there, input, `changed by ${source}`);
      return { outcome: changes.length > 0 ? 'changed' : 'same', name: code, changes };
    },
    rows: (work) => {
      const own = ownOf(work, given.table);
      return everyId(work, given.table).map((id) => {
        const view = given.view(work, id);
        return {
          ...Object.fromEntries(COMMON.map(({ key }) => [key, textOf(view[key])])),
          address: textOf(view['address']).replaceAll('\n', BREAK),
          ...peopleText(view),
          ...given.write(work, view),
          ...own.get(id),
        };
      });
    },
  };
}

const customerBody = customerInput;
const supplierBody = supplierInput;

export const customers = partyKind({
  kind: 'customers',
  table: 'customer',
  title: 'Customers',
  sample: [
    {
      code: 'HOLLIN',
      name: 'Hollin Lane Farm Shop',
      address: 'Hollin Lane 4 / Nether Wickden',
      email: 'shop@hollin.example',
      paymentDays: '14',
      taxCode: 'FULL',
    },
    {
      code: 'THORNE',
      name: 'Thornhallow School',
      address: 'Church Walk 1 / Thornhallow',
      paymentDays: '30',
      taxCode: 'FREE',
      contacts: 'Ivo Fenn, kitchen, ivo@thornhallow.example',
    },
  ],
  columns: [
    { key: 'group', title: 'Customer group', type: 'text' },
    { key: 'taxCode', title: 'Tax code', type: 'text' },
    { key: 'priceList', title: 'Price list', type: 'text' },
    { key: 'carrier', title: 'Carrier', type: 'text' },
    { key: 'service', title: 'Service', type: 'text' },
    { key: 'invoicing', title: 'Invoiced by', type: 'text' },
    { key: 'creditLimit', title: 'Credit limit', type: 'number' },
    { key: 'onHold', title: 'On hold', type: 'yesNo' },
  ],
  view: customerView,
  special: (work, row, before) => {
    const text = (key: string): string => row.or(key, before ? textOf(before[key]) : '');
    return {
      group: text('group') || null,
      taxCode: text('taxCode') || null,
      ...(before ? { taxRate: before['taxRate'] } : {}),
      priceListId: row.has('priceList')
        ? row.get('priceList') === ''
          ? null
          : idByCode(work, 'priceList', row, 'priceList')
        : (before?.['priceListId'] ?? null),
      carrier: text('carrier'),
      service: text('service'),
      invoicing: text('invoicing') || 'shipment',
      creditLimit: text('creditLimit') || null,
      onHold: text('onHold') === 'yes',
    };
  },
  create: (work, input, what) => void createCustomer(work, asInput(customerBody, input), what),
  change: (work, id, input, what) => {
    const { version, active } = input as { version: number; active: boolean };
    return changeCustomer(work, id, { ...asInput(customerBody, input), version, active }, what);
  },
  write: (work, view) => ({
    ...Object.fromEntries(['group', 'taxCode', 'carrier', 'service', 'invoicing', 'creditLimit', 'onHold'].map((key) => [key, textOf(view[key])])),
    priceList: view['priceListId'] === null ? '' : priceListView(work, Number(view['priceListId'])).code,
  }),
});

export const suppliers = partyKind({
  kind: 'suppliers',
  table: 'supplier',
  title: 'Suppliers',
  sample: [
    { code: 'TIMBER', name: 'Cragley Timber Yard', address: 'Quarry Road 9 / High Cragley', email: 'orders@cragley-timber.example', leadDays: '6' },
  ],
  columns: [
    { key: 'leadDays', title: 'Lead days', type: 'whole' },
    { key: 'calendar', title: 'Calendar', type: 'text' },
  ],
  view: (work, id) => ({ ...supplierView(work, id) }),
  special: (_work, row, before) => {
    const text = (key: string): string => row.or(key, before ? textOf(before[key]) : '');
    return { leadDays: text('leadDays') === '' ? null : Number(text('leadDays')), calendar: text('calendar') || null };
  },
  create: (work, input, what) => void createSupplier(work, asInput(supplierBody, input), what),
  change: (work, id, input, what) => {
    const { version, active } = input as { version: number; active: boolean };
    return changeSupplier(work, id, { ...asInput(supplierBody, input), version, active }, what);
  },
  write: (_work, view) => ({ leadDays: textOf(view['leadDays']), calendar: textOf(view['calendar']) }),
});
