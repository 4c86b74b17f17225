import { signal } from '@angular/core';
import { describe, expect, it } from 'vitest';
import { draftOf } from './draft-of-record';

const order = (version: number, quantity: string) => ({ id: 7, version, quantity });

describe('what is typed over a record', () => {
  it('stays while the same version is loaded again, and begins anew with another', () => {
    const record = signal<ReturnType<typeof order> | null>(null);
    const quantity = draftOf(record, (kept) => kept?.quantity ?? '');
    expect(quantity()).toBe('');
    record.set(order(1, '3'));
    expect(quantity()).toBe('3');
    quantity.set('2');
    record.set(order(1, '3'));
    expect(quantity()).toBe('2');
    record.set(order(2, '5'));
    expect(quantity()).toBe('5');
    record.set({ ...order(2, '4'), id: 8 });
    expect(quantity()).toBe('4');
  });
});
