import { describe, expect, it } from 'vitest';
import { rights } from '@terrace/contract';
import { bodyOf, draftOf, rightsByRoom, turned } from './role-draft';

describe('a role as it is entered', () => {
  it('has every right once, under a room that has a name', () => {
    const rooms = rightsByRoom();
    expect(rooms.flatMap((each) => each.rights.map(({ right }) => right)).toSorted()).toEqual([...rights].toSorted());
    expect(rooms.every(({ room }) => room !== '')).toBe(true);
    expect(new Set(rooms.map(({ room }) => room)).size).toBe(rooms.length);
  });

  it('keeps rights in one order, whatever is given first', () => {
    const one = turned(rights, turned(rights, [], 'setup.see', true), 'catalogue.see', true);
    const other = turned(rights, turned(rights, [], 'catalogue.see', true), 'setup.see', true);
    expect(one).toEqual(other);
    expect(turned(rights, one, 'setup.see', false)).toEqual(['catalogue.see']);
    expect(bodyOf({ ...draftOf(), name: 'Night shift', rights: one })).toEqual({ name: 'Night shift', rights: one, notices: [] });
  });
});
