import { describe, expect, it } from 'vitest';
import { rights } from '@terrace/contract';
import { PLACES, foundIn } from './set-up-places';

const all = new Set(rights);
const names = (words: string, may = all): string[] => foundIn(PLACES, words, may).flatMap(({ places }) => places.map(({ name }) => name));

describe('finding in the set-up', () => {
  it('goes by any of its words, wherever they stand', () => {
    expect(names('PASSWORD')).toEqual(['People']);
    expect(names('  rate  exchange ')).toEqual(['Groups, units and money']);
    expect(names('people roles')).toEqual(['Roles and rights']);
    expect(names('no such thing')).toEqual([]);
  });

  it('shows everything to who looks for nothing, and to nobody what they may not see', () => {
    expect(names('')).toHaveLength(PLACES.flatMap(({ places }) => places).length);
    expect(names('', new Set(['setup.see']))).not.toContain('Audit log');
  });
});
