/** Stock follows its item's group, and the group its account, on the books as well. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type AnswerOf, type ItemView } from '@terrace/contract';
import { openStoreRoom, type StoreRoom } from './testing/store-room';
import { somebody } from './testing/company';

const { catalogue, stores, accounts, buying } = api;
const GROUP = {
  code: 'GIFTS',
  name: 'Gifts',
  parent: 'ALL',
  inventoryAccount: '1500',
  costOfSalesAccount: '5000',
  revenueAccount: '4000',
  defaults: {},
  planning: {},
};
let room: StoreRoom;
beforeEach(async () => {
  room = await openStoreRoom();
  // An account of its own, which no other rule of the books counts on.
  room.company.terrace.commands.perform(somebody('administrator'), (work) => {
    work.store.sqlite.prepare(`insert into account (code, name) values ('1420', 'Gifts'), ('1430', 'More gifts')`).run();
  });
  await room.manager.call(catalogue.saveGroup, { body: { ...GROUP, inventoryAccount: '1420' } });
});
afterEach(async () => {
  room.company.sound();
  await room.company.close();
});

const balanceOf = async (code: string): Promise<string | undefined> =>
  (await room.manager.call(accounts.proof)).accounts.find((each) => each.code === code)?.balance;
const into = async (id: number, group: string): Promise<ItemView> => {
  const item = await room.manager.call(catalogue.getItem, { params: { id } });
  return room.manager.call(catalogue.changeItem, { params: { id }, body: { ...bodyOf(item), group } });
};
function bodyOf(item: ItemView) {
  const { code, description, group, sellPrice, version, unit } = item;
  return { code, description, group, sellPrice, unit, version, active: true };
}
type Change = AnswerOf<typeof stores.accountChange>;
const asked = (query: { item?: number; group: string; account?: string }): Promise<Change> => room.manager.call(stores.accountChange, { query });

describe('an item that goes to a group with another inventory account', () => {
  it('takes what its stock is worth along, as was shown beforehand', async () => {
    const id = await room.newItem('CANDLE');
    await room.receive(id, '12', '2.50');
    const before = Number(await balanceOf('1400'));
    expect(await asked({ item: id, group: 'GIFTS' })).toEqual({ from: '1400', to: '1420', items: 1, value: '30.00' });
    await into(id, 'GIFTS');
    expect([await balanceOf('1420'), Number(await balanceOf('1400'))]).toEqual(['30.00', before - 30]);
    expect(await asked({ item: id, group: 'GIFTS' })).toMatchObject({ items: 0, value: '0.00' });
  });

  it('can have what came before taken back, from the account where it is now', async () => {
    const id = await room.newItem('CANDLE');
    const first = await room.receive(id, '12', '2.50');
    await into(id, 'GIFTS');
    const second = await room.receive(id, '4', '3.00');
    expect(await balanceOf('1420')).toBe('42.00');
    await room.manager.call(buying.reverseReceipt, { params: { id: first } });
    expect(await balanceOf('1420')).not.toBe('42.00');
    room.company.sound();
    await into(id, 'ALL');
    room.company.sound();
    await room.manager.call(buying.reverseReceipt, { params: { id: second } });
    expect(await balanceOf('1420')).toBe('0.00');
  });

  it('posts nothing where it never had any stock, or where the account is the same', async () => {
    const id = await room.newItem('RIBBON');
    await into(id, 'GIFTS');
    const other = await room.newItem('CANDLE');
    await room.receive(other, '1', '2.00');
    const entries = (await room.manager.call(accounts.journal, { query: {} })).total;
    await room.manager.call(catalogue.saveGroup, { body: { ...GROUP, code: 'PLAIN', inventoryAccount: '1400' } });
    await into(other, 'PLAIN');
    expect((await room.manager.call(accounts.journal, { query: {} })).total).toBe(entries);
  });
});

describe('a group that goes to another inventory account', () => {
  it('takes what the stock of its items is worth along; the account that it left holds nothing', async () => {
    const [one, two] = [await room.newItem('CANDLE', { group: 'GIFTS' }), await room.newItem('RIBBON', { group: 'GIFTS' })];
    await room.receive(one, '2', '5.00');
    await room.receive(two, '3', '1.00');
    const group = (await room.manager.call(catalogue.getGround)).groups.find((each) => each.code === 'GIFTS');
    expect(await asked({ group: 'GIFTS', account: '1430' })).toEqual({ from: '1420', to: '1430', items: 2, value: '13.00' });
    const { version = 0 } = group ?? {};
    await room.manager.call(catalogue.saveGroup, { body: { ...GROUP, inventoryAccount: '1430', version } });
    expect([await balanceOf('1420'), await balanceOf('1430')]).toEqual(['0.00', '13.00']);
    const { checks } = await room.manager.call(accounts.proof);
    expect(checks.find((each) => each.name.includes('1420'))).toMatchObject({ expected: '0.00', found: '0.00', holds: true });
  });
});
