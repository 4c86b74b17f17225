import { describe, expect, it } from 'vitest';
import { assertGoodPin, normalBadge } from '..';

describe('a PIN', () => {
  it.each(['1234', '9876', '0000', '11111', '123', '123456789', '12a4', ''])('%j is refused', (pin) => {
    expect(() => assertGoodPin(pin)).toThrow(/PIN/);
  });
  it.each(['1357', '2580', '7041', '13572468'])('%j is taken', (pin) => {
    expect(() => assertGoodPin(pin)).not.toThrow();
  });
});

describe('a badge', () => {
  it('is the same however it was read', () => {
    expect(normalBadge(' b-07 4 ')).toBe('B-074');
  });
});
