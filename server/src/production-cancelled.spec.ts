/** Production of which the rest is cancelled: it stays cancelled, whatever of the finished part is taken back and made again. */
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type ProductionView } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

const { planning, production, stores } = api;
let company: Company;
let manager: Client;

async function begin(): Promise<void> {
  company = await openCompany();
  manager = await company.as('manager');
  const bar = { warehouseId: 1, reason: 'OPENING' };
  for (const [code, change] of [
    ['BAR', '20000'],
    ['WIRE', '20000'],
  ])
    await manager.call(stores.adjust, { body: { ...bar, lines: [{ itemId: company.id('item', code ?? ''), binId: 1, change, unitCost: '1' }] } });
}
beforeEach(begin);
afterEach(async () => {
  company.sound();
  await company.close();
});

const body = () => ({ itemId: company.id('item', 'FRAME'), warehouseId: 1, quantity: '10', dueDate: '2027-03-12' });
async function released(): Promise<ProductionView> {
  const made = await manager.call(production.createProduction, { body: body() });
  return manager.call(production.releaseProduction, { params: { id: made.id }, body: { version: made.version } });
}
const finish = ({ id, version }: ProductionView, quantity: string): Promise<ProductionView> =>
  manager.call(production.finishProduction, { params: { id }, body: { version, quantity } });
const cancel = ({ id, version }: ProductionView): Promise<ProductionView> =>
  manager.call(production.cancelProduction, { params: { id }, body: { version, reason: 'enough' } });
const takeBack = (made: ProductionView, at: number): Promise<ProductionView> =>
  manager.call(production.reverseCompletion, { params: { id: made.completions[at]?.id ?? 0 } });
const expectedIn = async (code: string): Promise<string> =>
  (await manager.call(stores.availability, { query: { item: company.id('item', code), warehouse: 1 } })).expectedIn;
const reserved = (made: ProductionView): Record<string, string> => Object.fromEntries(made.components.map((each) => [each.code, each.reserved]));

describe('the rest that was cancelled', () => {
  it('stays so when what was finished is taken back; that part is to be made again, with what it takes', async () => {
    let made = await cancel(await finish(await released(), '4'));
    expect(made).toMatchObject({ state: 'finished', finished: '4', cancelled: '6', outstanding: '0' });
    expect(await expectedIn('FRAME')).toBe('0');
    made = await takeBack(made, 0);
    expect(made).toMatchObject({ state: 'released', finished: '0', cancelled: '6', outstanding: '4' });
    // Four bars each, and 2.4 m of wire with 5 % lost: for four, not for ten.
    expect(reserved(made)).toEqual({ BAR: '16', WIRE: '10.08' });
    expect(await expectedIn('FRAME')).toBe('4');
    await company.terrace.planner.settled();
    expect((await manager.call(planning.listExceptions)).rows.find((row) => row.subject === made.number)?.quantity).toBe('4');
    const { code, details } = await manager.refused(production.finishProduction, {
      params: { id: made.id },
      body: { version: made.version, quantity: '5' },
    });
    expect([code, details?.['field']]).toEqual(['tooMuch', 'quantity']);
    made = await finish(made, '4');
    expect(made).toMatchObject({ state: 'finished', finished: '4', cancelled: '6', outstanding: '0' });
    expect(made.components.map(({ issued, outstanding }) => [issued, outstanding])).toEqual([
      ['16', '0'],
      ['10.08', '0'],
    ]);
  });

  it('is all of an order of which nothing was finished, which nothing brings back', async () => {
    const made = await cancel(await released());
    expect(made).toMatchObject({ state: 'cancelled', cancelled: '10', outstanding: '0' });
    expect((await manager.refused(production.cancelProduction, { params: { id: made.id }, body: { version: made.version, reason: 'x' } })).code).toBe(
      'wrongState',
    );
    expect(reserved(made)).toEqual({ BAR: '0', WIRE: '0' });
  });

  it('and what is finished and to be made are the order, whatever is done in whatever order', async () => {
    const step = fc.record({
      act: fc.constantFrom('finish', 'finish', 'cancel', 'takeBack'),
      amount: fc.integer({ min: 1, max: 6 }),
      pick: fc.nat(5),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 3, maxLength: 9 }), async (steps) => {
        let made = await released();
        let [left, cancelled] = [10, 0];
        const live: { id: number; amount: number }[] = [];
        for (const { act, amount, pick } of steps) {
          const chosen = live[pick % Math.max(1, live.length)];
          const { id, version } = made;
          if (act === 'finish' && amount <= left) {
            made = await finish(made, String(amount));
            live.push({ id: made.completions.at(-1)?.id ?? 0, amount });
            left -= amount;
          } else if (act === 'finish')
            await manager.refused(production.finishProduction, { params: { id }, body: { version, quantity: String(amount) } });
          else if (act === 'cancel' && left > 0) {
            made = await cancel(made);
            cancelled += left;
            left = 0;
          } else if (act === 'takeBack' && chosen) {
            made = await manager.call(production.reverseCompletion, { params: { id: chosen.id } });
            live.splice(live.indexOf(chosen), 1);
            left += chosen.amount;
          }
          const finished = live.reduce((sum, each) => sum + each.amount, 0);
          expect([made.finished, made.cancelled, made.outstanding].map(Number)).toEqual([finished, cancelled, left]);
          // What it still needs is for what is still to be made.
          if (left > 0) expect(made.components.map((each) => Number(each.outstanding))).toEqual([left * 4, Math.round(left * 252) / 100]);
        }
        company.sound();
      }),
      { numRuns: 15 },
    );
  });
});
