import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nearest, stillRefused, valueAt } from './paths';

const order = { customerId: 3, lines: [{ quantity: '2', item: null }], custom: { 4: 'blue' } };

describe('places in what is entered', () => {
  it('lead to what stands there', () => {
    expect(valueAt(order, 'lines.0.quantity')).toBe('2');
    expect(valueAt(order, 'custom.4')).toBe('blue');
    expect(valueAt(order, 'lines.1.quantity')).toBeUndefined();
    expect(valueAt(order, 'customerId.x')).toBeUndefined();
    expect(valueAt(order, '')).toBe(order);
  });

  it('end at the deepest part that there is', () => {
    expect(nearest(order, 'lines.0.quantity')).toEqual(['lines', '0', 'quantity']);
    expect(nearest(order, 'lines.0.itemId')).toEqual(['lines', '0']);
    expect(nearest(order, 'lines.0.item.id')).toEqual(['lines', '0', 'item']);
    expect(nearest(order, 'supplierId')).toEqual([]);
  });

  it('are refused while what stands there is what was refused', () => {
    const fields = { 'lines.0.quantity': 'Too many.', reference: 'Needed.' };
    expect(stillRefused(fields, order, { ...order })).toEqual(fields);
    expect(stillRefused(fields, order, { ...order, lines: [{ quantity: '1', item: null }] })).toEqual({ reference: 'Needed.' });
    const line = { 'lines.0.itemId': 'Choose an item.' };
    expect(stillRefused(line, order, { ...order, customerId: 4 })).toEqual(line);
    expect(stillRefused(line, order, { ...order, lines: [{ quantity: '2', item: { id: 7 } }] })).toEqual({});
  });

  it('are the same by both ways, whatever is entered', () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 4 }), (value) => {
        const walk = (at: unknown, path: string): void => {
          expect(valueAt(value, path)).toEqual(at);
          expect(nearest(value, path).join('.')).toBe(path);
          if (typeof at === 'object' && at !== null)
            for (const [key, each] of Object.entries(at)) if (key !== '' && !key.includes('.')) walk(each, path === '' ? key : `${path}.${key}`);
        };
        walk(value, '');
      }),
    );
  });
});
