import '@angular/compiler';
import { signal } from '@angular/core';
import { describe, expect, it } from 'vitest';
import { LineQuantities } from './line-quantities';

describe('what is typed by line', () => {
  it('is kept line by line, and given as a command takes it: nothing typed is none, pieces only where named', () => {
    const typed = new LineQuantities();
    typed.type(4, '3');
    typed.type(5, '');
    typed.name(4, [{ lot: 'L1', quantity: '3' }]);
    typed.name(5, []);
    expect([typed.of(4), typed.of(5), typed.of(6)]).toEqual(['3', '', '']);
    expect([4, 5, 6].map((id) => typed.taken(id))).toEqual([
      { quantity: '3', pieces: [{ lot: 'L1', quantity: '3' }] },
      { quantity: '0' },
      { quantity: '0' },
    ]);
    typed.clear();
    expect(typed.taken(4)).toEqual({ quantity: '0' });
  });

  it('begins with what is given', () => {
    const typed = new LineQuantities(signal({ 1: '2' }), signal({ 1: [{ serials: 'A1 A2' }] }));
    expect(typed.taken(1)).toEqual({ quantity: '2', pieces: [{ serials: 'A1 A2' }] });
  });
});
