import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import { throwError } from 'rxjs';
import { api, type OrderView } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { QuoteLost } from './quote-lost';
import { QuoteOrder } from './quote-order';

const line = (id: number, quantity: string, ordered: string) => ({
  id,
  code: `ITEM-${id}`,
  description: '',
  unit: 'each',
  quantity,
  cancelled: '0',
  ordered,
});
const quote = (kind: 'quote' | 'blanket' = 'quote'): OrderView =>
  ({
    id: 5,
    number: 'QU-5',
    kind,
    version: 3,
    requiredDate: '2027-04-01',
    reference: 'Spring',
    lines: [line(1, '10', '4'), line(2, '3', '3')],
  }) as unknown as OrderView;

describe('an order made of a quote', () => {
  interface Inside {
    readonly open: () => { readonly id: number }[];
    readonly draft: () => { readonly quantities: Record<string, string>; readonly requiredDate: string };
    readonly lines: () => readonly { readonly key: number; readonly left: string }[];
    readonly refused: () => Record<string, string | undefined>;
    readonly set: (quantities: Record<string, string>) => void;
    readonly make: () => void;
    readonly entry: { problem: () => Problem | null; refused: () => Record<string, string> };
  }
  let client: FakeClient;
  beforeEach(() => {
    client = new FakeClient();
    client.answer(api.selling.orderFromQuote, () => ({ id: 9 }));
  });
  const shown = (of = quote()) => screenWith(QuoteOrder, client, ['selling.edit'], { quote: of });

  it('begins with all that is left of each line, and leads to what it becomes', () => {
    const { screen, visited } = shown();
    const inside = screen as unknown as Inside;
    expect([inside.open().map(({ id }) => id), inside.draft()]).toEqual([
      [1],
      { requiredDate: '2027-04-01', reference: 'Spring', quantities: { 1: '6' } },
    ]);
    expect(inside.lines()).toMatchObject([{ key: 1, left: '6' }]);
    inside.set({ 1: '2' });
    inside.make();
    expect(client.asked.at(-1)?.call.body).toEqual({
      version: 3,
      reference: 'Spring',
      requiredDate: '2027-04-01',
      lines: [{ lineId: 1, quantity: '2' }],
    });
    expect(visited).toEqual(['/selling/orders/9']);
  });

  it('is called off from a blanket order by what somebody types, and says what can’t be', () => {
    client.answer(api.selling.orderFromQuote, () =>
      throwError(() => new Problem('tooMuch', 'Only 6 are left.', { 'lines.0.quantity': 'Only 6 are left.' }, {})),
    );
    const inside = shown(quote('blanket')).screen as unknown as Inside;
    expect(inside.draft().quantities).toEqual({ 1: '' });
    inside.make();
    expect(client.asked.at(-1)?.call.body).toMatchObject({ lines: [{ lineId: 1, quantity: '0' }] });
    expect(inside.entry.problem()?.message).toBe('Only 6 are left.');
    expect(inside.refused()).toEqual({ 1: 'Only 6 are left.' });
  });
});

describe('a quote that is lost', () => {
  it('says why, in a few words of a list and those of the customer', () => {
    const client = new FakeClient();
    client.answer(api.selling.loseQuote, () => quote());
    const inside = screenWith(QuoteLost, client, ['selling.edit'], { quote: quote() }).screen as unknown as { lose: () => void; words: () => string };
    expect(inside.words()).toBe('Lost: QU-5');
    inside.lose();
    expect(client.asked.at(-1)?.call.body).toEqual({ version: 3, reason: 'price', note: '' });
  });
});
