import '@angular/compiler';
import { signal } from '@angular/core';
import { describe, expect, it } from 'vitest';
import { LineQuantities, lineDraft, linePlace } from './line-quantities';

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
  });

  it('begins with what is given', () => {
    const lines = [{ id: 1, open: '2' }];
    const typed = new LineQuantities(
      signal(
        lineDraft(
          lines,
          (line) => line.id,
          (line) => line.open,
          () => [{ serials: 'A1 A2' }],
        ),
      ),
    );
    expect(typed.taken(1)).toEqual({ quantity: '2', pieces: [{ serials: 'A1 A2' }] });
  });

  it('is refused at the line that was sent in that place', () => {
    expect(['lines.1.quantity', 'lines.0.pieces.0.lot', 'lines.7.quantity', 'note'].map((place) => linePlace(place, [40, 50]))).toEqual([
      'quantities.50',
      'pieces.40',
      'lines.7.quantity',
      'note',
    ]);
  });
});
