import { describe, expect, it } from 'vitest';
import type { Person } from '@terrace/contract';
import { bodyOf, draftOf, withRole, withWarehouse } from './person-draft';

const quill: Person = {
  id: 4,
  login: 'quill',
  name: 'Quill Hathersedge',
  email: '',
  active: true,
  joined: true,
  habits: 'comma',
  warehouseId: 2,
  badge: false,
  pinSpent: false,
  sessions: 1,
  version: 2,
  roles: [
    { roleId: 2, name: 'Storekeeper', warehouses: [1] },
    { roleId: 3, name: 'Viewer', warehouses: null },
  ],
};

describe('a person as they are entered', () => {
  it('comes back as it was, where nothing is changed', () => {
    const { id: _, active: _active, joined: _joined, sessions: _sessions, version: _version, badge: _badge, pinSpent: _pin, roles, ...rest } = quill;
    expect(bodyOf(draftOf([1, 2, 3], quill))).toEqual({ ...rest, roles: roles.map(({ roleId, warehouses }) => ({ roleId, warehouses })) });
  });

  it('has the roles that are given and not taken, where they are given', () => {
    let draft = draftOf([1, 2, 3], quill);
    draft = withRole(draft, 3, false);
    draft = withRole(draft, 1, true);
    draft = withWarehouse(draft, 2, 2, true);
    draft = withWarehouse(draft, 2, 1, false);
    expect(bodyOf(draft).roles).toEqual([
      { roleId: 1, warehouses: null },
      { roleId: 2, warehouses: [2] },
    ]);
    // In none in particular a role holds in all.
    expect(bodyOf(withWarehouse(draft, 2, 2, false)).roles[1]).toEqual({ roleId: 2, warehouses: null });
  });

  it('begins empty, with no role', () => {
    expect(bodyOf(draftOf([1, 2]))).toEqual({ name: '', login: '', email: '', habits: '', warehouseId: null, roles: [] });
  });
});
