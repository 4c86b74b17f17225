/**
 * Rights per action, and the roles that a company begins with. Roles are sets of rights that each company changes as it
 * likes. The server enforces rights; the screen only follows.
 */
import type { NoticeKind } from './notices';

/** All rights, each with what it lets somebody do. */
const WORDS = {
  'catalogue.see': 'See items, bills of materials, customers and suppliers',
  'catalogue.edit': 'Change items, bills of materials, customers and suppliers',
  'stores.see': 'See stock, lots, serial numbers and transfers',
  'stores.adjust': 'Adjust, move and transfer stock, block lots',
  'stores.release': 'Reserve stock and give reserved stock free',
  'selling.see': 'See customer orders and prices',
  'selling.edit': 'Enter and change customer orders',
  'selling.confirm': 'Confirm customer orders',
  'selling.counter': 'Sell over the counter, take back, and count the drawer',
  'selling.price': 'Change price lists and prices',
  'selling.exceed': 'Go beyond discount ceilings and credit limits',
  'planning.see': 'See the plan, its suggestions and forecasts',
  'planning.run': 'Change planning rules and forecasts',
  'planning.release': 'Turn suggestions into orders',
  'production.see': 'See production orders',
  'production.edit': 'Enter, change and cancel production orders',
  'production.report': 'Finish production orders',
  'buying.see': 'See purchase orders',
  'buying.edit': 'Enter and change purchase orders',
  'buying.approve': 'Send purchase orders to suppliers',
  'buying.receive': 'Receive goods',
  'dispatch.see': 'See shipments',
  'dispatch.ship': 'Ship to customers',
  'accounts.see': 'See invoices, payments and the journal',
  'accounts.invoice': 'Invoice customers',
  'accounts.pay': 'Enter payments',
  'accounts.close': 'Post by hand and close periods',
  'files.attach': 'Attach files to records',
  'bulk.import': 'Bring in files',
  'setup.see': 'See the set-up and the outbox',
  'setup.edit': 'Change the set-up',
  'setup.people': 'Look after people, roles and their rights',
  'setup.audit': 'Read the audit log',
} as const;
export type Right = keyof typeof WORDS;
export const rights = Object.keys(WORDS) as readonly Right[] as readonly [Right, ...Right[]];

/** What a right lets somebody do, in words. */
export function rightWords(right: Right): string {
  return WORDS[right];
}

/** Rights that somebody may have for some warehouses only; all others hold everywhere. */
export const rightsByWarehouse: ReadonlySet<Right> = new Set<Right>([
  'stores.adjust',
  'stores.release',
  'production.edit',
  'production.report',
  'buying.receive',
  'dispatch.ship',
]);

const see = rights.filter((right) => right.endsWith('.see') && right !== 'setup.see');

/** A role that a company begins with. */
export interface StandardRole {
  readonly name: string;
  /** Has every right, those of later versions too. */
  readonly everything: boolean;
  readonly rights: readonly Right[];
  /** What its people are told of. */
  readonly notices: readonly NoticeKind[];
}

function standard(name: string, own: readonly Right[], notices: readonly NoticeKind[] = []): StandardRole {
  return { name, everything: false, rights: rights.filter((right) => see.includes(right) || own.includes(right)), notices };
}

const attach = 'files.attach' as const;

/** The roles that a company begins with, by a word for each. */
export const standardRoles = {
  administrator: { name: 'Administrator', everything: true, rights, notices: ['keeping', 'other'] },
  manager: {
    name: 'Manager',
    everything: false,
    rights: rights.filter((right) => right !== 'setup.edit' && right !== 'setup.people' && right !== 'setup.audit'),
    notices: ['finished', 'arrived', 'shipped', 'onItsWay', 'lotBlocked', 'lotChanged', 'released', 'promise', 'keeping', 'other'],
  },
  sales: standard(
    'Sales',
    ['stores.release', 'selling.edit', 'selling.confirm', 'selling.counter', 'accounts.invoice', attach],
    ['finished', 'arrived', 'shipped', 'lotBlocked', 'lotChanged', 'released', 'promise'],
  ),
  buyer: standard(
    'Buyer',
    ['catalogue.edit', 'planning.run', 'planning.release', 'buying.edit', 'buying.approve', 'buying.receive', 'bulk.import', attach],
    ['arrived', 'keeping', 'other'],
  ),
  planner: standard('Planner', ['planning.run', 'planning.release', 'production.edit', 'stores.release', attach], ['finished', 'arrived', 'keeping']),
  engineer: standard('Engineer', ['catalogue.edit', 'bulk.import', attach]),
  productionLead: standard(
    'Production lead',
    ['production.edit', 'production.report', 'stores.release', attach],
    ['finished', 'arrived', 'onItsWay'],
  ),
  operator: standard('Operator', ['production.report', attach]),
  storekeeper: standard(
    'Storekeeper',
    ['stores.adjust', 'stores.release', 'buying.receive', 'dispatch.ship', 'production.report', attach],
    ['finished', 'stockAskedFor', 'onItsWay', 'lotBlocked', 'lotChanged'],
  ),
  packer: standard('Packer', ['dispatch.ship', attach]),
  quality: standard('Quality', ['stores.adjust', attach], ['arrived', 'lotBlocked', 'lotChanged']),
  accounts: standard('Accounts', ['accounts.invoice', 'accounts.pay', 'accounts.close', attach], ['shipped']),
  viewer: standard('Viewer', []),
} as const satisfies Readonly<Record<string, StandardRole>>;
export type Role = keyof typeof standardRoles;
export const roles = Object.keys(standardRoles) as readonly Role[];

/** What a person of a standard role may do, as long as nobody has changed it. */
export function rightsOf(role: Role): readonly Right[] {
  return standardRoles[role].rights;
}
