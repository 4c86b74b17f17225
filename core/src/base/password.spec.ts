import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SHORTEST_PASSWORD, assertGoodPassword } from './password';
import { Refusal } from './refusal';

const rule = { common: new Set(['password', 'qwertyuiop', '1234567890']), known: ['quill', 'Quill Hathersedge'] };
const refused = (password: string): string => {
  try {
    assertGoodPassword(password, rule);
    return '';
  } catch (error) {
    if (error instanceof Refusal && error.code === 'weakPassword') return error.message;
    throw error;
  }
};

describe('a password', () => {
  it.each([
    ['short', 'A password has 10 characters'],
    ['1234567890', 'everybody tries first'],
    ['QwertyUIOP', 'everybody tries first'],
    ['Password2027!', 'everybody tries first'],
    ['aaaaaaaaaaab', 'too few different'],
    ['my-quill-2027', 'contains “quill”'],
    ['ＱＵＩＬＬ and more', 'contains “quill”'],
  ])('%s is refused, with why', (password, why) => {
    expect(refused(password)).toContain(why);
  });

  it('of a few words is taken', () => {
    expect(refused('lantern copper orchard')).toBe('');
  });

  it('is never refused for what it lacks but length and variety, where it is not known', () => {
    const words = fc.array(fc.stringMatching(/^[bcdfghjkm]{4,8}$/), { minLength: 3, maxLength: 5 }).map((each) => each.join(' '));
    fc.assert(
      fc.property(words, (password) => {
        fc.pre(password.length >= SHORTEST_PASSWORD && new Set(password).size >= 4);
        expect(refused(password)).toBe('');
      }),
    );
  });
});
