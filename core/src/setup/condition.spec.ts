import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FREE_TO_BE_CALM, FREE_TO_WORK, MOST_BEHIND_MS, conditionOf } from '..';

const well = { free: 2 * FREE_TO_BE_CALM, behind: -5, damaged: false };

describe('the condition of a server', () => {
  it('is well where there is room, the clock goes on and everything can be read', () => {
    expect(conditionOf(well)).toBeNull();
    expect(conditionOf({ ...well, free: FREE_TO_BE_CALM, behind: MOST_BEHIND_MS })).toBeNull();
  });

  it.each([
    [{ ...well, free: FREE_TO_BE_CALM - 1 }, 'diskLow', false, /Only 999 MB are free/],
    [{ ...well, free: FREE_TO_WORK - 1 }, 'diskFull', true, /Only 199 MB are free/],
    [{ ...well, free: 0 }, 'diskFull', true, /Only 0 MB/],
    [{ ...well, behind: MOST_BEHIND_MS + 60_000 }, 'clockBack', true, /back by 3 minutes/],
    [{ ...well, behind: 3 * 3_600_000 }, 'clockBack', true, /back by 3 hours/],
    [{ ...well, behind: 400 * 86_400_000 }, 'clockBack', true, /back by 400 days/],
    [{ ...well, damaged: true }, 'damaged', true, /last good backup/],
  ] as const)('says what is the matter: %j', (signs, kind, stops, words) => {
    const said = conditionOf(signs);
    expect(said).toMatchObject({ kind, stops });
    expect(said?.words).toMatch(words);
  });

  it('names the worst, and stops work whenever one of them alone would', () => {
    const signs = fc.record({ free: fc.integer({ min: 0, max: 3e9 }), behind: fc.integer({ min: -1e6, max: 1e9 }), damaged: fc.boolean() });
    fc.assert(
      fc.property(signs, (seen) => {
        const alone = [
          conditionOf({ ...well, free: seen.free }),
          conditionOf({ ...well, behind: seen.behind }),
          conditionOf({ ...well, damaged: seen.damaged }),
        ];
        expect(conditionOf(seen)?.stops ?? false).toBe(alone.some((each) => each?.stops === true));
        expect(conditionOf(seen) === null).toBe(alone.every((each) => each === null));
      }),
    );
  });
});
