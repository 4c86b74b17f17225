import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import { throwError } from 'rxjs';
import { api } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { CustomerNumbers } from './customer-numbers';

describe('a customer’s own numbers', () => {
  interface Inside {
    readonly rows: () => { readonly theirCode: string }[];
    readonly take: (item: object) => void;
    readonly add: () => void;
    readonly forget: (item: number) => void;
    readonly entry: { problem: () => Problem | null };
  }
  it('are shown, added with the item that is chosen, and forgotten', () => {
    const client = new FakeClient();
    const row = (theirCode: string) => ({ itemId: 4, code: 'SMOKER', description: '', theirCode, theirDescription: '' });
    client.answer(api.catalogue.customerItems, () => [row('A')]);
    client.answer(api.catalogue.keepCustomerItem, () => [row('A'), row('B')]);
    client.answer(api.catalogue.dropCustomerItem, () => []);
    const inside = screenWith(CustomerNumbers, client, ['catalogue.edit'], { customerId: 3, may: true }).screen as unknown as Inside;
    expect(inside.rows()).toHaveLength(1);
    inside.take({ id: 4, code: 'SMOKER' });
    inside.add();
    expect(client.asked.at(-1)?.call).toMatchObject({ params: { id: 3 }, body: { itemId: 4 } });
    expect(inside.rows()).toHaveLength(2);
    inside.forget(4);
    expect([inside.rows(), client.asked.at(-1)?.call.params]).toEqual([[], { id: 3, item: 4 }]);
    client.answer(api.catalogue.dropCustomerItem, () => throwError(() => new Problem('notFound', 'No number.', {}, {})));
    inside.forget(4);
    expect(inside.entry.problem()?.message).toBe('No number.');
  });
});
