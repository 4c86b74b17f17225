/** What stock is worth when something is taken back, or posted as of a day before: nothing is made dearer by a mistake that was mended. */
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { buying, production, stores } = api;
let room: StoreRoom;

beforeEach(async () => {
  room = await openStoreRoom();
});
afterEach(() => room.closeProven());

const takeBack = (id: number): Promise<unknown> => room.manager.call(buying.reverseReceipt, { params: { id } });
const notes = async (item: number): Promise<string[]> =>
  (await room.manager.call(stores.moves, { query: { item } })).rows.map(({ note }) => note).filter((note) => note !== '');

describe('stock at moving average', () => {
  it('gives a receipt that is taken back at once what it brought, with the costs that came late', async () => {
    const item = await room.newItem('CLOTH');
    await room.receive(item, '10', '2.00');
    const wrong = await room.receive(item, '10', '80.00');
    expect(await room.worthOf('CLOTH')).toBe('820.00');
    await room.manager.call(stores.addLateCost, { params: { id: wrong }, body: { what: 'landedCost', amount: '7.00', note: 'freight' } });
    await takeBack(wrong);
    expect(await room.worthOf('CLOTH')).toBe('20.00');
    // Costs that came late are no part of the receipt's own entry: what is left of them is a difference.
    expect(await notes(item)).toEqual(['taken back: brought 800.00, takes 807.00; -7.00 is a cost difference']);
  });

  it('takes its share, and says the difference, where something has left since', async () => {
    const item = await room.newItem('CLOTH');
    await room.receive(item, '10', '2.00');
    const wrong = await room.receive(item, '10', '80.00');
    await room.keeper.call(stores.adjust, room.take(item, '-5'));
    expect(await room.worthOf('CLOTH')).toBe('615.00');
    await takeBack(wrong);
    expect(await room.worthOf('CLOTH')).toBe('205.00');
    expect(await notes(item)).toContain('taken back: brought 800.00, takes 410.00; 390.00 is a cost difference');
  });

  it('takes what it brought again when what left has come back', async () => {
    const item = await room.newItem('CLOTH');
    await room.receive(item, '10', '2.00');
    const wrong = await room.receive(item, '10', '80.00');
    const { id } = await room.keeper.call(stores.adjust, room.take(item, '-5'));
    await room.manager.call(stores.reverseAdjustment, { params: { id } });
    await takeBack(wrong);
    expect(await room.worthOf('CLOTH')).toBe('20.00');
  });

  it('gives what was finished and taken back what it cost to make', async () => {
    const { manager } = room;
    const wick = await room.newItem('WICK');
    const lamp = await room.newItem('LAMP');
    await room.receive(lamp, '4', '1.00');
    await room.receive(wick, '10', '30.00');
    await manager.call(api.catalogue.setBom, {
      params: { id: lamp },
      body: { fixedQuantity: '0', lines: [{ componentId: wick, quantity: '1' }] } as never,
    });
    const body = { itemId: lamp, quantity: '2', warehouseId: 1, dueDate: '2027-03-20' };
    const made = await manager.call(production.createProduction, { body });
    const { id, version } = await manager.call(production.releaseProduction, { params: { id: made.id }, body: { version: made.version } });
    const done = await manager.call(production.finishProduction, { params: { id }, body: { version, quantity: '2' } });
    expect(await room.worthOf('LAMP')).toBe('64.00');
    await manager.call(production.reverseCompletion, { params: { id: done.completions.at(-1)?.id ?? 0 } });
    expect([await room.worthOf('LAMP'), await room.worthOf('WICK')]).toEqual(['4.00', '300.00']);
  });

  it('over random receipts and issues, taken back in any order, is worth what a plain computation says', async () => {
    let item = 0;
    let named = 0;
    const step = fc.record({
      act: fc.constantFrom<('receive' | 'issue' | 'takeBack')[]>('receive', 'receive', 'issue', 'takeBack', 'takeBack'),
      quantity: fc.integer({ min: 1, max: 9 }),
      price: fc.integer({ min: 1, max: 9000 }),
      which: fc.nat(20),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 4, maxLength: 10 }), async (steps) => {
        const code = `CLOTH${(named += 1)}`;
        item = await room.newItem(code);
        // Plain: receipts that stand with what they brought, and whether anything left for good since each.
        let [quantity, value] = [0, 0];
        const standing: { id: number; quantity: number; brought: number; mixed: boolean }[] = [];
        for (const { act, ...said } of steps) {
          if (act === 'receive') {
            const id = await room.receive(item, String(said.quantity), (said.price / 100).toFixed(2));
            standing.push({ id, quantity: said.quantity, brought: said.quantity * said.price, mixed: false });
            quantity += said.quantity;
            value += said.quantity * said.price;
          } else if (act === 'issue' && quantity > said.quantity) {
            await room.keeper.call(stores.adjust, room.take(item, String(-said.quantity)));
            value -= Math.round((value * said.quantity) / quantity);
            quantity -= said.quantity;
            for (const each of standing) each.mixed = true;
          } else if (act === 'takeBack' && standing.length > 0) {
            const at = said.which % standing.length;
            const back = standing[at];
            if (!back || back.quantity > quantity) continue;
            await takeBack(back.id);
            standing.splice(at, 1);
            const gone = back.quantity === quantity ? value : back.mixed ? Math.round((value * back.quantity) / quantity) : back.brought;
            value -= gone;
            quantity -= back.quantity;
            if (gone !== back.brought) for (const each of standing) each.mixed = true;
          }
        }
        expect((await room.worthOf(code)) ?? '0.00').toBe((value / 100).toFixed(2));
      }),
      { numRuns: 12 },
    );
  });
});

describe('what is posted as of a day before', () => {
  it('never makes the stock worth less than nothing on that day', async () => {
    const item = await room.newItem('CLOTH');
    const opening = (date: string, unitCost: string): Promise<unknown> =>
      room.keeper.call(stores.adjust, {
        body: { warehouseId: 1, date, reason: 'OPENING', lines: [{ itemId: item, binId: 1, change: '10', unitCost }] },
      });
    await opening('2027-02-10', '2.00');
    await opening('2027-02-20', '80.00');
    const refusal = await room.keeper.refused(stores.adjust, room.take(item, '-10', undefined, { date: '2027-02-15' }));
    expect(refusal).toMatchObject({ code: 'worthLessThen', details: { field: 'date' } });
    expect(refusal.detail).toContain('takes 410.00 out of the stock, which was worth only 20.00 before 2027-02-20');
    expect(await room.worthOf('CLOTH')).toBe('820.00');
    await room.keeper.call(stores.adjust, room.take(item, '-10', undefined, { date: '2027-02-20' }));
    expect([await room.worthOf('CLOTH', '2027-02-15'), await room.worthOf('CLOTH')]).toEqual(['20.00', '410.00']);
  });
});
