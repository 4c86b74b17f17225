/** Rights per action and the roles that have them. The server enforces them; the screen only follows. */
export const rights = [
  'catalogue.see',
  'catalogue.edit',
  'stores.see',
  'stores.adjust',
  'stores.release',
  'selling.see',
  'selling.edit',
  'selling.confirm',
  'selling.price',
  'selling.exceed',
  'planning.see',
  'planning.run',
  'planning.release',
  'production.see',
  'production.edit',
  'production.report',
  'buying.see',
  'buying.edit',
  'buying.approve',
  'buying.receive',
  'dispatch.see',
  'dispatch.ship',
  'accounts.see',
  'accounts.invoice',
  'accounts.pay',
  'accounts.close',
  'bulk.import',
  'setup.see',
  'setup.edit',
  'setup.audit',
] as const;
export type Right = (typeof rights)[number];

export const roles = ['manager', 'sales', 'buyer', 'storekeeper', 'viewer', 'administrator'] as const;
export type Role = (typeof roles)[number];

const see = rights.filter((right) => right.endsWith('.see') && right !== 'setup.see');

const rightsByRole: Readonly<Record<Role, readonly Right[]>> = {
  manager: rights.filter((right) => right !== 'setup.edit' && right !== 'setup.audit'),
  sales: [...see, 'stores.release', 'selling.edit', 'selling.confirm', 'accounts.invoice'],
  buyer: [...see, 'catalogue.edit', 'planning.run', 'planning.release', 'buying.edit', 'buying.approve', 'buying.receive', 'bulk.import'],
  storekeeper: [...see, 'stores.adjust', 'stores.release', 'buying.receive', 'dispatch.ship', 'production.report'],
  viewer: see,
  administrator: rights,
};

/** What a person of a role may do. */
export function rightsOf(role: Role): readonly Right[] {
  return rightsByRole[role];
}
