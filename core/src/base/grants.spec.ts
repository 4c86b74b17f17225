import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { grantsChanged, grantsOf, holdsIn, type HeldRole } from './grants';

const KNOWN = { all: ['see', 'edit', 'ship', 'adjust'] as const, byPlace: new Set(['ship', 'adjust'] as const) } as const;
type Right = (typeof KNOWN.all)[number];
const known = KNOWN as { all: readonly Right[]; byPlace: ReadonlySet<Right> };

const role: fc.Arbitrary<HeldRole> = fc.record({
  rights: fc.subarray(['see', 'edit', 'ship', 'adjust', 'of another version']),
  everything: fc.boolean(),
  places: fc.option(fc.uniqueArray(fc.integer({ min: 1, max: 4 }))),
});

describe('what somebody may do', () => {
  it('is given by any of their roles; where that matters, only where the role is', () => {
    const storekeeper = { rights: ['see', 'ship'], everything: false, places: [2] };
    const viewer = { rights: ['see'], everything: false, places: null };
    const grants = grantsOf(known, [storekeeper, viewer]);
    expect([...grants]).toEqual([
      ['see', 'everywhere'],
      ['ship', new Set([2])],
    ]);
    expect([holdsIn(grants, 'ship', 2), holdsIn(grants, 'ship', 1), holdsIn(grants, 'edit', 2)]).toEqual([true, false, false]);
  });

  it('is the same in whatever order the roles come, and never less with one more', () => {
    fc.assert(
      fc.property(fc.array(role, { maxLength: 4 }), role, (roles, more) => {
        const grants = grantsOf(known, roles);
        for (const right of known.all)
          for (const place of [1, 2, 3, 4]) {
            const one = roles.some((each) => holdsIn(grantsOf(known, [each]), right, place));
            expect(holdsIn(grants, right, place)).toBe(one);
            expect(holdsIn(grantsOf(known, [...roles].reverse()), right, place)).toBe(one);
          }
        expect(grantsChanged(grants, grantsOf(known, [...roles, more])).lost).toEqual([]);
      }),
    );
  });

  it('changes by what is gained and what is lost: nothing where nothing changes, the other way round when it is taken back', () => {
    fc.assert(
      fc.property(fc.array(role, { maxLength: 3 }), fc.array(role, { maxLength: 3 }), (some, others) => {
        const [before, after] = [grantsOf(known, some), grantsOf(known, others)];
        const { gained, lost } = grantsChanged(before, after);
        const back = grantsChanged(after, before);
        expect([new Set(back.gained), new Set(back.lost)]).toEqual([new Set(lost), new Set(gained)]);
        expect(grantsChanged(before, before)).toEqual({ gained: [], lost: [] });
        for (const right of known.all)
          for (const place of [1, 2, 3, 4])
            if (!gained.includes(right) && holdsIn(after, right, place)) expect(holdsIn(before, right, place)).toBe(true);
      }),
    );
  });
});
