import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type SuggestionRow } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

const { planning, selling, catalogue, buying } = api;
let company: Company;
let manager: Client;
let usual: number;
let near: number;
let stranger: number;
const id = (code: string): number => company.id('item', code);
const suggested = async (code: string): Promise<SuggestionRow> => {
  await company.terrace.planner.settled();
  const found = (await manager.call(planning.listSuggestions)).rows.find((row) => row.code === code);
  if (!found) throw new Error(`nothing is suggested for ${code}`);
  return found;
};
const wanted = async (code: string, quantity: string, requiredDate: string): Promise<{ forget(): Promise<void> }> => {
  const { id: orderId, version } = await manager.call(selling.createOrder, {
    body: { customerId: 1, warehouseId: 1, requiredDate, lines: [{ itemId: id(code), quantity }], confirm: true },
  });
  return {
    forget: async () => {
      await manager.call(selling.cancelOrder, { params: { id: orderId }, body: { version, reason: 'only asked' } });
    },
  };
};
const terms = (code: string, supplierId: number, more: { price: string; leadDays: number; minimum?: string; preferred: boolean }) =>
  manager.call(catalogue.setTerm, { params: { id: id(code) }, body: { supplierId, ...more } });

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
  usual = company.id('supplier', 'METAL');
  near = (await manager.call(catalogue.createSupplier, { body: { code: 'NEAR', name: 'Nearby Smith' } })).id;
  stranger = (await manager.call(catalogue.createSupplier, { body: { code: 'STRANGE', name: 'Strange Goods' } })).id;
  await terms('SMOKER', usual, { price: '17.80', leadDays: 8, preferred: true });
  await terms('SMOKER', near, { price: '21.00', leadDays: 2, minimum: '60', preferred: false });
});
afterAll(() => company.close());

describe('the supplier of a suggestion', () => {
  it('is the preferred one, with the days of their lead time, while that is in time', async () => {
    const order = await wanted('SMOKER', '40', '2027-03-24');
    expect(await suggested('SMOKER')).toMatchObject({ supplier: 'Ironbeck Metalworks', daysLate: 0, due: '2027-03-24', placeBy: '2027-03-12' });
    await order.forget();
  });

  it('is whoever is faster where that is late: days, quantity and cost are theirs, and why says so', async () => {
    const order = await wanted('SMOKER', '40', '2027-03-03');
    const row = await suggested('SMOKER');
    expect(row).toMatchObject({ supplier: 'Nearby Smith', daysLate: 0, due: '2027-03-03', placeBy: '2027-03-01' });
    expect(row.cost).toBe('1260.00');
    const { why, choices } = await manager.call(planning.getSuggestion, { query: { name: row.id } });
    expect(why).toMatch(/From Nearby Smith with .*in time: Ironbeck Metalworks would be \d+ days late\./);
    expect(why).toContain('Ordered are 60 each');
    const late = choices.find((one) => one.supplierId === usual)?.daysLate ?? 0;
    expect(late).toBeGreaterThan(0);
    expect(choices.find((one) => one.supplierId === near)).toMatchObject({ ordered: '60', daysLate: 0, comes: '2027-03-03' });
    await order.forget();
  });
});

describe('what is released', () => {
  const preview = async (supplierId: number | null) => {
    const row = await suggested('SMOKER');
    const { quantity, due, itemId } = row;
    return manager.call(planning.previewRelease, {
      body: { seq: 0, suggestions: [{ name: row.id, supplierId, seen: { itemId, quantity, due } }] } as never,
    });
  };

  it('is raised to the minimum order of whoever is chosen, and says so, before and after', async () => {
    const order = await wanted('SMOKER', '40', '2027-03-03');
    const row = await suggested('SMOKER');
    const shown = await preview(near);
    expect(shown.documents[0]?.lines).toMatchObject([{ quantity: '60', due: '2027-03-03' }]);
    expect(shown.documents[0]?.lines[0]?.note).toMatch(new RegExp(`^${60 - Number(row.quantity)} each more than suggested: .*60`));
    await order.forget();
  });

  it('comes when whoever is chosen can deliver, and says where nothing is known of them', async () => {
    const order = await wanted('SMOKER', '40', '2027-03-03');
    const [slow, unknown] = [await preview(usual), await preview(stranger)];
    expect(slow.documents[0]).toMatchObject({ partner: 'Ironbeck Metalworks', lines: [{ due: '2027-03-11', note: '' }] });
    expect(unknown.documents[0]?.lines[0]?.note).toBe('Strange Goods has no terms for SMOKER: no price and no lead time is known.');
    expect((await manager.call(buying.listPurchases)).rows.some((each) => each.supplier === 'Strange Goods')).toBe(false);
    await order.forget();
  });
});
