/** Tokens: a program asks for somebody, within what they may, until it is over. */
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, rights, type BodyIn } from '@terrace/contract';
import { setRow } from './platform/rows';
import { token, user } from './platform/schema';
import { Client, openCompany, somebody, type Company } from './testing/company';

const { setup, platform, selling, catalogue } = api;
let company: Company;
let manager: Client;

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterAll(() => company.close());

/** A program that shows a token and has no session. */
const program = (text: string): Client => new Client(request.agent(company.terrace.app).set('Authorization', `Bearer ${text}`));
const wish = (more: Partial<BodyIn<typeof setup.addToken>> = {}) => ({ body: { name: 'Shop of ours', rights: null, days: 30, ...more } });
const order = () => ({
  body: {
    customerId: company.id('customer', 'HOLLIN'),
    warehouseId: company.id('warehouse', 'WORKS'),
    requiredDate: '2027-03-10',
    lines: [{ itemId: company.id('item', 'SMOKER'), quantity: '1' }],
  },
});

describe('a token', () => {
  it('lets a program do what its owner may, in their name, and is seen to be used', async () => {
    const { token: text, tokens } = await manager.call(setup.addToken, wish());
    expect(tokens.at(-1)).toMatchObject({ name: 'Shop of ours', rights: null, lastUse: null });
    const shop = program(text);
    expect((await shop.call(platform.getSession)).user.login).toBe('manager');
    const { id } = await shop.call(selling.createOrder, order());
    const history = await manager.call(platform.history, { params: { kind: 'customerOrder', id } });
    expect(history[0]?.who).toBe('manager');
    expect((await manager.call(setup.tokens)).tokens.at(-1)?.lastUse).toBe('2027-03-01T09:00:00.000Z');
  });

  it('never lets it do more than it was given, nor more than its owner may, nor look after people', async () => {
    const { token: narrow } = await manager.call(setup.addToken, wish({ rights: ['selling.see', 'setup.audit'] }));
    const shop = program(narrow);
    await shop.call(selling.listOrders);
    expect((await shop.call(platform.getSession)).rights).toEqual(['selling.see']);
    expect(await shop.refused(selling.createOrder, order())).toMatchObject({ status: 403, code: 'notAllowed' });
    const administrator = await company.as('administrator');
    const { token: wide } = await administrator.call(setup.addToken, wish({ rights: [...rights] }));
    const all = program(wide);
    await all.call(platform.audit);
    expect(await all.refused(setup.saveRole, { body: { name: 'x', rights: [], notices: [] } })).toMatchObject({ status: 403 });
    // What is only for whoever it belongs to.
    for (const asked of [
      () => all.refused(setup.addToken, wish()),
      () => all.refused(setup.changePassword, { body: { old: 'secret', password: 'lantern copper orchard' } }),
      () => all.refused(setup.endOwnSession, { params: { key: 'others' } }),
    ])
      expect(await asked()).toMatchObject({ status: 403, code: 'notByToken' });
  });

  it('is over when it is revoked, has ended, or its owner is gone, at once', async () => {
    const { token: text, tokens } = await manager.call(setup.addToken, wish());
    const id = tokens.at(-1)?.id ?? 0;
    const shop = program(text);
    await shop.call(catalogue.choices);
    setRow(company.terrace, user, somebody('manager').id, { active: false });
    expect(await shop.refused(catalogue.choices)).toMatchObject({ status: 401 });
    setRow(company.terrace, user, somebody('manager').id, { active: true });
    await shop.call(catalogue.choices);
    setRow(company.terrace, token, id, { expires: Date.now() - 1 });
    expect(await shop.refused(catalogue.choices)).toMatchObject({ status: 401, code: 'notSignedIn' });
    setRow(company.terrace, token, id, { expires: Date.now() + 60_000 });
    const stranger = await company.as('sales');
    expect(await stranger.refused(setup.dropToken, { params: { id } })).toMatchObject({ status: 404 });
    expect((await manager.call(setup.dropToken, { params: { id } })).tokens.map((each) => each.id)).not.toContain(id);
    expect(await shop.refused(catalogue.choices)).toMatchObject({ status: 401 });
  });

  it('is the same where the answer was lost, and is kept nowhere', async () => {
    const first = await manager.call(setup.addToken, { ...wish(), key: 'a-token-please' });
    const again = await manager.call(setup.addToken, { ...wish(), key: 'a-token-please' });
    expect(again.token).toBe(first.token);
    expect(again.tokens).toHaveLength(first.tokens.length);
    const [, secret = ''] = /^terrace_\d+_(.+)$/.exec(first.token) ?? [];
    expect(secret).toHaveLength(43);
    expect(company.terrace.store.sqlite.serialize().toString('latin1').includes(secret)).toBe(false);
    await program(first.token).call(selling.listOrders);
  });

  it('is not found by trying, which slows whoever tries and nobody else', async () => {
    const { token: text } = await manager.call(setup.addToken, wish());
    const codes: string[] = [];
    for (let tries = 0; tries < 8; tries += 1) codes.push((await program(`${text.slice(0, -4)}${1000 + tries}`).refused(selling.listOrders)).code);
    expect(new Set(codes)).toEqual(new Set(['notSignedIn', 'tooManyAttempts']));
    for (const nonsense of ['', 'terrace_1_', 'terrace_99999999999_x', `terrace_1_${'A'.repeat(43)}`, 'x'.repeat(3000)])
      expect((await program(nonsense).attempt(selling.listOrders)).status).toBeGreaterThanOrEqual(400);
    await program(text).call(selling.listOrders);
    const buyer = await company.as('buyer');
    expect((await buyer.call(platform.getSession)).user.login).toBe('buyer');
  });
});
