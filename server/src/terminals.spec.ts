/** Terminals: devices that are paired, at which people sign in by badge and PIN; and how figures are written for whom. */
import request from 'supertest';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { Client, openCompany, type Company } from './testing/company';

const { platform, setup } = api;
const SALES = 2;
let company: Company;
let administrator: Client;

beforeEach(async () => {
  company = await openCompany();
  administrator = await company.as('administrator');
});
afterEach(() => company.close());

/** A device at which nobody is signed in. */
const device = (): Client => new Client(request.agent(company.terrace.app));
const badge = (at: Client, pin: string, shown = 'B-074') => at.agent.post('/api/session/badge').send({ badge: shown, pin });

async function idOf(login: string): Promise<number> {
  const { people } = await administrator.call(setup.people);
  return people.find((each) => each.login === login)?.id ?? SALES;
}

async function paired(warehouseId: number | null = null): Promise<Client> {
  const { code } = await administrator.call(setup.addTerminal, { body: { name: 'Gate 1', warehouseId } });
  const at = device();
  expect(await at.call(platform.terminal)).toEqual({ name: null });
  expect(await at.call(platform.pairTerminal, { body: { code: code.toLowerCase() } })).toEqual({ name: 'Gate 1' });
  return at;
}
const give = async (login: string, body: { badge: string; pin?: string }) =>
  administrator.call(setup.giveBadge, { params: { id: await idOf(login) }, body });

describe('a terminal', () => {
  it('lets in by badge and PIN who has them, where it stands; another device does not', async () => {
    const { people } = await give('storekeeper', { badge: 'b-074', pin: '2580' });
    expect(people.find(({ login }) => login === 'storekeeper')).toMatchObject({ badge: true, pinSpent: false });
    const at = await paired(2);
    expect(await at.call(platform.terminal)).toEqual({ name: 'Gate 1' });
    const answer = await badge(at, '2580', ' b-07 4');
    expect(answer.body).toMatchObject({ user: { login: 'storekeeper' }, warehouseId: 2 });
    expect((await at.call(platform.getSession)).user.login).toBe('storekeeper');
    expect((await badge(device(), '2580')).body).toMatchObject({ code: 'noTerminal' });
    expect((await administrator.call(setup.terminals)).terminals[0]).toMatchObject({ paired: true, warehouseId: 2 });
  });

  it('takes no PIN any more after eight wrong ones, until there is a new one', async () => {
    await give('storekeeper', { badge: 'B-074', pin: '2580' });
    const at = await paired();
    const { sqlite } = company.terrace.store;
    for (let tried = 0; tried < 4; tried += 1) expect((await badge(at, '1357')).body).toMatchObject({ code: 'wrongPin' });
    expect((await badge(at, '2580')).status).toBe(200);
    sqlite.prepare('update user set pin_tries = 7').run();
    expect((await badge(at, '1357')).body).toMatchObject({ code: 'wrongPin' });
    expect((await badge(at, '2580')).body).toMatchObject({ code: 'wrongPin' });
    const { people } = await give('storekeeper', { badge: 'B-074', pin: '7041' });
    expect(people.find(({ login }) => login === 'storekeeper')).toMatchObject({ pinSpent: false });
    expect((await badge(at, '7041')).status).toBe(200);
  });

  it('is one device by one code, for a quarter of an hour, and none once it is taken away', async () => {
    await give('storekeeper', { badge: 'B-074', pin: '2580' });
    const at = await paired();
    expect(await device().refused(platform.pairTerminal, { body: { code: 'AAAA-AAAA' } })).toMatchObject({ code: 'wrongCode' });
    const [terminal] = (await administrator.call(setup.terminals)).terminals;
    const { code } = await administrator.call(setup.codeForTerminal, { params: { id: terminal?.id ?? 0 } });
    expect(await at.call(platform.terminal)).toEqual({ name: null });
    company.terrace.store.sqlite.prepare('update terminal set code_ends = 1').run();
    expect(await at.refused(platform.pairTerminal, { body: { code } })).toMatchObject({ code: 'wrongCode' });
    const again = await administrator.call(setup.codeForTerminal, { params: { id: terminal?.id ?? 0 } });
    await at.call(platform.pairTerminal, { body: { code: again.code } });
    expect(await device().refused(platform.pairTerminal, { body: { code: again.code } })).toMatchObject({ code: 'wrongCode' });
    await administrator.call(setup.dropTerminal, { params: { id: terminal?.id ?? 0 } });
    expect((await badge(at, '2580')).body).toMatchObject({ code: 'noTerminal' });
  });

  it('keeps neither badge nor PIN nor code, but what can’t be turned back into them', async () => {
    await give('storekeeper', { badge: 'B-074', pin: '2580' });
    const { code } = await administrator.call(setup.addTerminal, { body: { name: 'Gate 2', warehouseId: null } });
    const rows = ['user', 'terminal', 'history', 'idempotency'].map((table) =>
      JSON.stringify(company.terrace.store.sqlite.prepare(`select * from ${table}`).all()),
    );
    for (const secret of ['B-074', '2580', code, code.replace('-', '')]) expect(rows.join('').includes(secret)).toBe(false);
  });

  it('is no way in for who is deactivated, and a badge belongs to one', async () => {
    await give('storekeeper', { badge: 'B-074', pin: '2580' });
    const sales = await idOf('sales');
    const refused = (body: object) => administrator.refused(setup.giveBadge, { params: { id: sales }, body });
    expect(await refused({ badge: 'b-074', pin: '2580' })).toMatchObject({ code: 'alreadyThere' });
    expect(await refused({ badge: 'B-075' })).toMatchObject({ code: 'needsPin' });
    expect(await refused({ badge: 'B-075', pin: '1234' })).toMatchObject({ code: 'weakPin' });
    const at = await paired();
    company.terrace.store.sqlite.prepare("update user set active = 0 where login = 'storekeeper'").run();
    expect((await badge(at, '2580')).body).toMatchObject({ code: 'wrongPin' });
    const { people } = await give('storekeeper', { badge: '' });
    expect(people.find(({ login }) => login === 'storekeeper')?.badge).toBe(false);
  });
});

describe('a person', () => {
  it('sees figures as their country writes them, or as they like it, and begins where they work', async () => {
    expect(await administrator.call(platform.getSession)).toMatchObject({ habits: 'point', warehouseId: null });
    const { people } = await administrator.call(setup.people);
    const { id, name, login, email, active, roles, version } = people.find((each) => each.login === 'sales') ?? people[0]!;
    const body = { name, login, email, active, roles: roles.map(({ roleId, warehouses }) => ({ roleId, warehouses })), version };
    await administrator.call(setup.changePerson, { params: { id }, body: { ...body, habits: 'comma', warehouseId: 2 } });
    expect(await (await company.as('sales')).call(platform.getSession)).toMatchObject({ habits: 'comma', warehouseId: 2 });
    const refusal = await administrator.refused(setup.changePerson, { params: { id }, body: { ...body, version: version + 1, warehouseId: 99 } });
    expect(refusal).toMatchObject({ code: 'notFound', details: { field: 'warehouseId' } });
  });
});

describe('tokens of everybody', () => {
  it('are seen and revoked by who looks after people, and by nobody else', async () => {
    const manager = await company.as('manager');
    const { token } = await manager.call(setup.addToken, { body: { name: 'shop', rights: null, days: 30 } });
    const ask = () => request(company.terrace.app).get('/api/selling/orders').set('authorization', `Bearer ${token}`);
    expect((await ask()).status).toBe(200);
    expect(await manager.refused(setup.everyToken)).toMatchObject({ code: 'notAllowed' });
    const [found] = (await administrator.call(setup.everyToken)).tokens;
    expect(found).toMatchObject({ name: 'shop', owner: 'manager' });
    expect((await administrator.call(setup.dropTokenOf, { params: { id: found?.id ?? 0 } })).tokens).toEqual([]);
    expect((await ask()).status).toBe(401);
  });
});
