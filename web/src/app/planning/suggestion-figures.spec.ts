import { describe, expect, it } from 'vitest';
import { cheapestOf, unknownOf } from './suggestion-figures';

const choices = [
  { supplierId: 3, cost: '97.50' },
  { supplierId: 1, cost: '104.00' },
  { supplierId: 2, cost: '9.90' },
];

describe('who could supply a suggestion', () => {
  it('is cheapest by what is paid in all, not by how it is written; nobody is where there is no choice', () => {
    expect(cheapestOf(choices)).toBe(2);
    expect(cheapestOf(choices.slice(0, 1))).toBeNull();
    expect(cheapestOf([])).toBeNull();
  });

  it('may be somebody of whom nothing is known, and then it says so', () => {
    expect(unknownOf(choices, 7)).toContain('neither price nor lead time');
    expect([unknownOf(choices, 3), unknownOf(choices, null)]).toEqual(['', '']);
  });
});
