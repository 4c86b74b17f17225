/** Commands are refused before anything is lost: no room on the disk, a clock that went back, a damaged database. */
import { afterEach, describe, expect, it, vi } from 'vitest';
import { api } from '@terrace/contract';
import { FREE_TO_BE_CALM, FREE_TO_WORK } from '@terrace/core';
import { settingOf } from '../platform/settings';
import { Watchman } from './watchman';
import { openCompany, type Client, type Company } from '../testing/company';

const DAY = 86_400_000;
/** What the server sees, moved as the tests like. */
const seen = { free: 0, now: 0, running: 0 };
let company: Company;
let manager: Client;

async function open(): Promise<void> {
  Object.assign(seen, { free: 10 * FREE_TO_BE_CALM, now: Date.UTC(2027, 2, 1, 9), running: 0 });
  company = await openCompany({ eyes: { free: () => seen.free, now: () => seen.now, running: () => seen.running } });
  company.terrace.watchman.begin();
  manager = await company.as('manager');
}
afterEach(() => company.close());

/** Time goes on, and the clock with it unless it is told otherwise. */
function pass(ms: number, clock = ms): void {
  seen.running += ms;
  seen.now += clock;
}
const order = () => ({
  body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-12', lines: [{ itemId: company.id('item', 'SMOKER'), quantity: '1' }] },
});

describe('a disk that is nearly full', () => {
  it('is told of first, then nothing is taken on, and everything can still be read; with room again work goes on', async () => {
    await open();
    expect(await manager.call(api.setup.condition)).toEqual({ condition: null });
    seen.free = FREE_TO_BE_CALM - 1;
    pass(60_000);
    expect((await manager.call(api.setup.condition)).condition).toMatchObject({ kind: 'diskLow', stops: false });
    await manager.call(api.selling.createOrder, order());
    seen.free = FREE_TO_WORK - 1;
    pass(60_000);
    const before = company.everything();
    const refusal = await manager.refused(api.selling.createOrder, order());
    expect(refusal).toMatchObject({ code: 'notNow', details: { condition: 'diskFull' } });
    expect(refusal.detail).toMatch(/199 MB are free/);
    expect(company.everything()).toBe(before);
    expect((await manager.call(api.selling.listOrders)).total).toBe(1);
    // Nobody is kept from leaving, or from coming in to see.
    expect((await (await company.as('sales')).call(api.platform.getSession)).user.login).toBe('sales');
    seen.free = 2 * FREE_TO_BE_CALM;
    pass(60_000);
    await manager.call(api.selling.createOrder, order());
  });
});

describe('a clock that has gone back', () => {
  it('stops work until it is right again', async () => {
    await open();
    pass(60_000);
    await manager.call(api.selling.createOrder, order());
    pass(60_000, -3 * DAY);
    expect(await manager.refused(api.selling.createOrder, order())).toMatchObject({ code: 'notNow', details: { condition: 'clockBack' } });
    pass(60_000, 3 * DAY + 120_000);
    await manager.call(api.selling.createOrder, order());
  });

  it('may be believed by who looks after the company, and by nobody else', async () => {
    await open();
    pass(60_000, -3 * DAY);
    expect(await manager.refused(api.setup.believeClock)).toMatchObject({ code: 'notAllowed' });
    const administrator = await company.as('administrator');
    expect(await administrator.call(api.setup.believeClock)).toEqual({ condition: null });
    await manager.call(api.selling.createOrder, order());
  });

  it('is noticed by a server that was off meanwhile; a small step is not', async () => {
    await open();
    pass(1000);
    await manager.call(api.selling.createOrder, order());
    expect(settingOf(company.terrace.store, 'clock.latest')).toBe(String(Date.UTC(2027, 2, 1, 9)));
    pass(60_000, -30_000);
    expect(await manager.call(api.setup.condition)).toEqual({ condition: null });
    const { commands } = company.terrace;
    const started = (now: number) =>
      new Watchman(commands, company.folder, () => undefined, { free: () => seen.free, now: () => now, running: () => 5 });
    expect(started(Date.UTC(2027, 2, 1, 8)).condition()).toMatchObject({ kind: 'clockBack' });
    expect(started(Date.UTC(2027, 2, 1, 10)).condition()).toBeNull();
  });
});

describe('a damaged database', () => {
  it('is found by whoever cannot read a page of it', async () => {
    await open();
    vi.spyOn(company.terrace.commands, 'look').mockImplementationOnce(() => {
      throw Object.assign(new Error('database disk image is malformed'), { code: 'SQLITE_CORRUPT' });
    });
    expect(await manager.attempt(api.selling.listOrders)).toMatchObject({ status: 503 });
    expect((await manager.call(api.setup.condition)).condition).toMatchObject({ kind: 'damaged', stops: true });
  });

  it('is said, and nothing more is taken on', async () => {
    await open();
    company.terrace.watchman.noteDamage();
    expect(await manager.refused(api.selling.createOrder, order())).toMatchObject({ code: 'notNow', details: { condition: 'damaged' } });
    expect((await manager.call(api.setup.condition)).condition?.words).toMatch(/terrace restore/);
  });
});
