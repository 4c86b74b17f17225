/** People: who may do what, from the moment that it is changed; how they get in, and how they are kept out. */
import fc from 'fast-check';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, rights, type Person, type RoleView } from '@terrace/contract';
import { Client, openCompany, type Company } from './testing/company';

const { setup, platform, stores, planning } = api;
const GOOD = 'lantern copper orchard';
let company: Company;
let administrator: Client;

beforeAll(async () => {
  company = await openCompany();
  administrator = await company.as('administrator');
});
afterAll(() => company.close());

const signIn = (login: string, password: string) => request.agent(company.terrace.app).post('/api/session').send({ login, password });
const people = async (): Promise<readonly Person[]> => (await administrator.call(setup.people)).people;
const called = async (login: string): Promise<Person> => {
  const found = (await people()).find((each) => each.login === login);
  if (!found) throw new Error(`nobody signs in as ${login}`);
  return found;
};
const roleCalled = async (name: string): Promise<RoleView> => {
  const found = (await administrator.call(setup.people)).roles.find((each) => each.name === name);
  if (!found) throw new Error(`there is no role ${name}`);
  return found;
};
const held = ({ roles }: Person): { roleId: number; warehouses: number[] | null }[] =>
  roles.map(({ roleId, warehouses }) => ({ roleId, warehouses: warehouses && [...warehouses] }));
const change = async (login: string, more: Partial<{ active: boolean; roles: { roleId: number; warehouses: number[] | null }[]; login: string }>) => {
  const { id, name, email, active, version, ...person } = await called(login);
  return administrator.attempt(setup.changePerson, {
    params: { id },
    body: { name, login, email, active, roles: held({ id, name, email, active, version, ...person }), version, ...more },
  });
};

let made = 0;
/** Adds somebody with a role, who chooses a password and signs in. */
async function newcomer(
  role: string,
  warehouses: number[] | null = null,
): Promise<{ readonly login: string; readonly client: Client; readonly path: string }> {
  made += 1;
  const login = `newcomer-${made}`;
  const { id: roleId } = await roleCalled(role);
  const { link } = await administrator.call(setup.addPerson, {
    body: { name: `Newcomer ${made}`, login, email: '', roles: [{ roleId, warehouses }] },
  });
  const client = new Client(request.agent(company.terrace.app));
  const params = { link: link.path.replace('/join/', '') };
  expect(await client.call(setup.whoseLink, { params })).toEqual({ name: `Newcomer ${made}`, login });
  expect(await client.call(setup.joinByLink, { params, body: { password: GOOD } })).toEqual({ login });
  expect((await client.agent.post('/api/session').send({ login, password: GOOD })).status).toBe(200);
  return { login, client, path: link.path };
}

describe('a newcomer', () => {
  it('chooses a password by a link, which serves once, and whose answer may be asked for again', async () => {
    const { client, path, login } = await newcomer('Viewer');
    expect((await client.call(platform.getSession)).user).toMatchObject({ login, role: 'Viewer' });
    const params = { link: path.replace('/join/', '') };
    expect(await client.refused(setup.whoseLink, { params })).toMatchObject({ code: 'linkOver' });
    expect(await client.refused(setup.joinByLink, { params, body: { password: 'another good one of mine' } })).toMatchObject({ code: 'linkOver' });
    expect(await client.call(setup.joinByLink, { params, body: { password: GOOD } })).toEqual({ login });
    expect((await called(login)).joined).toBe(true);
  });

  it('is told which passwords are none, and can’t come in before they chose one', async () => {
    const { id: roleId } = await roleCalled('Sales');
    const body = { name: 'Ansel Thicket', login: ' Ansel\u00a0', email: 'ansel@larkmoor.example', roles: [{ roleId, warehouses: null }] };
    const { link, id } = await administrator.call(setup.addPerson, { body });
    expect(await called('ansel')).toMatchObject({ id, name: 'Ansel Thicket', joined: false, active: true });
    for (const password of ['', GOOD]) expect((await signIn('ansel', password)).status).toBe(401);
    const client = new Client(request.agent(company.terrace.app));
    const params = { link: link.path.replace('/join/', '') };
    for (const password of ['short', 'password1234', 'ansel ansel ansel'])
      expect(await client.refused(setup.joinByLink, { params, body: { password } })).toMatchObject({
        code: 'weakPassword',
        details: { field: 'password' },
      });
    // Making another link ends the first.
    const { path } = await administrator.call(setup.linkForPerson, { params: { id } });
    expect(await client.refused(setup.whoseLink, { params })).toMatchObject({ code: 'linkOver' });
    expect(await client.call(setup.whoseLink, { params: { link: path.replace('/join/', '') } })).toEqual({ name: 'Ansel Thicket', login: 'ansel' });
    // One name, however it is written.
    expect(await administrator.refused(setup.addPerson, { body: { ...body, login: 'ＡＮＳＥＬ' } })).toMatchObject({
      code: 'alreadyThere',
      details: { field: 'login' },
    });
  });

  it('has a link that nobody guesses, and that is kept nowhere', async () => {
    const { path } = await administrator.call(setup.linkForPerson, { params: { id: (await called('ansel')).id } });
    const [, id = '', seal = ''] = /^\/join\/(\d+)-(.+)$/.exec(path) ?? [];
    const client = new Client(request.agent(company.terrace.app));
    for (const link of [`${id}-${'A'.repeat(43)}`, `${Number(id) + 1}-${seal}`, `${Number(id) - 1}-${seal}`])
      expect(await client.refused(setup.whoseLink, { params: { link } })).toMatchObject({ code: 'linkOver' });
    const dump = company.terrace.store.sqlite.serialize().toString('latin1');
    expect(dump.includes(seal)).toBe(false);
    expect(dump.includes(GOOD)).toBe(false);
  });
});

describe('what somebody may do', () => {
  it('follows their roles at once, on sessions that are open', async () => {
    const { client, login } = await newcomer('Viewer');
    expect(await client.refused(planning.runPlan)).toMatchObject({ status: 403, code: 'notAllowed' });
    const { id: roleId } = await roleCalled('Buyer');
    expect((await change(login, { roles: [{ roleId, warehouses: null }] })).status).toBe(200);
    expect((await client.call(platform.getSession)).rights).toContain('planning.run');
    await client.call(planning.runPlan);
    expect((await change(login, { roles: [] })).status).toBe(200);
    expect(await client.refused(planning.runPlan)).toMatchObject({ status: 403 });
    expect((await client.call(platform.getSession)).rights).toEqual([]);
  });

  it('changes with a role for all who have it, and before that it is said whom it takes what', async () => {
    const { client } = await newcomer('Engineer');
    const engineer = await roleCalled('Engineer');
    const less = engineer.rights.filter((right) => right !== 'catalogue.edit');
    const before = company.everything();
    const { people: hit } = await administrator.call(setup.weighRole, { body: { id: engineer.id, rights: [...less, 'setup.audit'] } });
    expect(hit.map(({ gained, lost }) => ({ gained, lost }))).toEqual([
      { gained: ['setup.audit'], lost: ['catalogue.edit'] },
      { gained: ['setup.audit'], lost: ['catalogue.edit'] },
    ]);
    expect(company.everything().replace(/idempotency .*\n/, '')).toBe(before.replace(/idempotency .*\n/, ''));
    const { id, name, notices, version } = engineer;
    await administrator.call(setup.saveRole, { body: { id, name, notices, rights: [...less], version } });
    const unit = { code: 'box', name: 'box', decimals: 0 };
    expect(await client.refused(api.catalogue.saveUnit, { body: unit })).toMatchObject({ code: 'notAllowed' });
    expect(await administrator.refused(setup.saveRole, { body: { id, name, notices, rights: [...less], version } })).toMatchObject({
      code: 'staleVersion',
    });
    expect(await administrator.refused(setup.saveRole, { body: { name: 'engineer', notices: [], rights: [] } })).toMatchObject({
      code: 'alreadyThere',
      details: { field: 'name' },
    });
    await administrator.call(setup.saveRole, { body: { id, name, notices, rights: [...engineer.rights], version: version + 1 } });
    await client.call(api.catalogue.saveUnit, { body: unit });
  });

  it('holds where it was given: stock of another warehouse is not moved', async () => {
    const [works, depot] = [company.id('warehouse', 'WORKS'), company.id('warehouse', 'DEPOT')];
    const { client } = await newcomer('Storekeeper', [depot]);
    const itemId = company.id('item', 'SMOKER');
    const found = (warehouseId: number) => ({
      body: { warehouseId, reason: 'OPENING', note: '', lines: [{ itemId, change: '1', unitCost: '17.50' }] },
    });
    await client.call(stores.adjust, found(depot));
    const before = company.everything();
    expect(await client.refused(stores.adjust, found(works))).toMatchObject({ status: 403, code: 'notHere' });
    expect(company.everything()).toBe(before);
    // Whoever has the role for all warehouses may in each.
    await (await company.as('storekeeper')).call(stores.adjust, found(works));
    company.sound();
  });

  it('never ends for the last who looks after people', async () => {
    const { id: viewer } = await roleCalled('Viewer');
    for (const more of [{ active: false }, { roles: [] }, { roles: [{ roleId: viewer, warehouses: null }] }])
      expect(await change('administrator', more)).toMatchObject({ status: 409, body: { code: 'lastAdministrator' } });
    const all = await roleCalled('Administrator');
    expect(await administrator.refused(setup.saveRole, { body: { ...all, rights: [] } })).toMatchObject({ code: 'everyRight' });
    expect(await administrator.refused(setup.dropRole, { params: { id: all.id } })).toMatchObject({ code: 'everyRight' });
    expect(await administrator.refused(setup.dropRole, { params: { id: viewer } })).toMatchObject({ code: 'inUse' });
    const { id: roleId } = all;
    const { login } = await newcomer('Administrator');
    expect((await change('administrator', { roles: [{ roleId: viewer, warehouses: null }] })).status).toBe(200);
    expect(await administrator.refused(setup.linkForPerson, { params: { id: 1 } })).toMatchObject({ status: 403 });
    const other = await company.as('viewer');
    expect((await other.call(platform.getSession)).user.login).toBe('viewer');
    // The other gives it back.
    const agent = new Client(request.agent(company.terrace.app));
    expect((await agent.agent.post('/api/session').send({ login, password: GOOD })).status).toBe(200);
    const { people: all2 } = await agent.call(setup.people);
    const me = all2.find((each) => each.login === 'administrator');
    if (!me) throw new Error('gone');
    const { id, name, email, active, version } = me;
    await agent.call(setup.changePerson, {
      params: { id },
      body: { name, login: me.login, email, active, version, roles: [{ roleId, warehouses: null }] },
    });
  });

  it('whatever roles are given one after the other, somebody can always look after people', async () => {
    const view = await administrator.call(setup.people);
    const ids = view.roles.map(({ id }) => id);
    const steps = fc.array(
      fc.record({ who: fc.integer({ min: 0, max: 3 }), roles: fc.uniqueArray(fc.constantFrom(...ids), { maxLength: 2 }), active: fc.boolean() }),
      {
        maxLength: 6,
      },
    );
    await fc.assert(
      fc.asyncProperty(steps, async (taken) => {
        for (const { who, roles, active } of taken) {
          const person = (await people())[who === 0 ? 0 : who + 1];
          if (!person || person.login === 'administrator') continue;
          await change(person.login, { active, roles: roles.map((roleId) => ({ roleId, warehouses: null })) });
        }
        const now = await administrator.call(setup.people);
        const able = new Set(now.roles.flatMap((each) => (each.rights.includes('setup.people') ? [each.id] : [])));
        expect(now.people.some((each) => each.active && each.roles.some(({ roleId }) => able.has(roleId)))).toBe(true);
      }),
      { numRuns: 4 },
    );
  });

  it('is all of it for the administrator, whatever rights there are', async () => {
    expect((await administrator.call(platform.getSession)).rights.toSorted()).toEqual([...rights].toSorted());
  });
});

describe('somebody who left', () => {
  it('is signed out everywhere at once, and their name stays in history', async () => {
    const { client, login } = await newcomer('Buyer');
    await client.call(planning.runPlan);
    expect((await called(login)).sessions).toBe(1);
    expect((await change(login, { active: false })).status).toBe(200);
    expect(await client.refused(platform.getSession)).toMatchObject({ status: 401 });
    expect((await signIn(login, GOOD)).status).toBe(401);
    const { id, sessions, active } = await called(login);
    expect({ sessions, active }).toEqual({ sessions: 0, active: false });
    expect(await administrator.refused(setup.linkForPerson, { params: { id } })).toMatchObject({ code: 'notActive' });
    // Active again, they sign in with the password that they had; what was open stays closed.
    expect((await change(login, { active: true })).status).toBe(200);
    expect(await client.refused(platform.getSession)).toMatchObject({ status: 401 });
    expect((await signIn(login, GOOD)).status).toBe(200);
  });
});

describe('one’s own', () => {
  it('password is changed by who knows it, and the other sessions end', async () => {
    const { client, login } = await newcomer('Viewer');
    const elsewhere = new Client(request.agent(company.terrace.app));
    expect((await elsewhere.agent.post('/api/session').send({ login, password: GOOD })).status).toBe(200);
    const password = 'window granite ferry';
    expect(await client.refused(setup.changePassword, { body: { old: 'wrong', password } })).toMatchObject({
      code: 'wrongPassword',
      details: { field: 'old' },
    });
    expect(await client.refused(setup.changePassword, { body: { old: GOOD, password: 'short' } })).toMatchObject({ code: 'weakPassword' });
    await client.call(setup.changePassword, { body: { old: GOOD, password } });
    // The answer was lost, and it is asked for again.
    await client.call(setup.changePassword, { body: { old: GOOD, password } });
    expect(await elsewhere.refused(platform.getSession)).toMatchObject({ status: 401 });
    expect((await client.call(platform.getSession)).user.login).toBe(login);
    expect((await signIn(login, GOOD)).status).toBe(401);
    expect((await signIn(login, password)).status).toBe(200);
  });

  it('preferences are kept, changed and forgotten, and nobody else has them', async () => {
    const { client } = await newcomer('Viewer');
    const stranger = await company.as('manager');
    const kept = async () => (await client.call(platform.getSession)).preferences;
    const prefer = async (value: unknown) =>
      client.attempt(platform.setPreference, { params: { key: 'grid.orders' }, body: { value: value as never } });
    expect(await prefer(null)).toMatchObject({ status: 200 });
    expect(await kept()).toEqual({});
    await prefer({ columns: ['number'] });
    await prefer({ columns: ['customer'] });
    expect(await kept()).toEqual({ 'grid.orders': { columns: ['customer'] } });
    expect((await stranger.call(platform.getSession)).preferences).not.toHaveProperty(['grid.orders']);
    await prefer(null);
    expect(await kept()).toEqual({});
  });

  it('sessions are seen and ended, and nobody else’s', async () => {
    const { client, login } = await newcomer('Viewer');
    const elsewhere = new Client(request.agent(company.terrace.app));
    await elsewhere.agent.post('/api/session').set('User-Agent', 'a browser elsewhere').send({ login, password: GOOD });
    const open = await client.call(setup.ownSessions);
    expect(open.map(({ current, browser }) => ({ current, browser }))).toEqual([
      { current: false, browser: 'a browser elsewhere' },
      { current: true, browser: '' },
    ]);
    const [{ key } = { key: '' }] = open;
    const stranger = await company.as('manager');
    expect(await stranger.refused(setup.endOwnSession, { params: { key } })).toMatchObject({ status: 404 });
    expect(await client.call(setup.endOwnSession, { params: { key } })).toEqual({ ended: 1 });
    expect(await elsewhere.refused(platform.getSession)).toMatchObject({ status: 401 });
    expect(await client.call(setup.ownSessions)).toHaveLength(1);
    const { id } = await called(login);
    await administrator.call(setup.endSessionsOf, { params: { id } });
    expect(await client.refused(platform.getSession)).toMatchObject({ status: 401 });
  });
});
