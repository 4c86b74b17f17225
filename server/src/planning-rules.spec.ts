import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type AnswerOf, type ItemView } from '@terrace/contract';
import { RULE_FIELDS } from '@terrace/core';
import { openCompany, type Client, type Company } from './testing/company';

const { catalogue } = api;
let company: Company;
let manager: Client;

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterAll(() => company.close());

const item = async (code: string): Promise<ItemView> => manager.call(catalogue.getItem, { params: { id: company.id('item', code) } });
const ruleOf = async (code: string) => (await item(code)).rules[0];
const rules = async () => (await manager.call(api.planning.listRules)).rows;

/** Has all that a rule does not have to say itself follow. */
async function letFollow(code: string): Promise<void> {
  const { id, rules: kept } = await item(code);
  const [rule] = kept;
  if (!rule) throw new Error(`${code} has no rule`);
  const { texts: _texts, safetyWords: _words, ...body } = rule;
  await manager.call(api.planning.setRule, { params: { id }, body: { ...body, follows: [...RULE_FIELDS] } });
}

async function saveGroup(planning: Record<string, string>): Promise<AnswerOf<typeof catalogue.saveGroup>> {
  const ground = await manager.call(catalogue.getGround);
  const [group] = ground.groups.filter((each) => each.code === 'ALL');
  if (!group) throw new Error('no group');
  const { items: _items, ...body } = group;
  return manager.call(catalogue.saveGroup, { body: { ...body, planning } });
}

describe('a planning rule', () => {
  it('takes what it does not say from the item, else from the group, and follows when that changes', async () => {
    await letFollow('BAR');
    expect(await ruleOf('BAR')).toMatchObject({ slackDays: 2, leadDays: 0 });
    const answer = await saveGroup({ slackDays: '5', sizing: '10 days', safety: '8 days' });
    expect(answer.followed).toBe(1);
    expect(await ruleOf('BAR')).toMatchObject({ slackDays: 5, lotSizing: { kind: 'period', days: 10 }, safetyBy: { by: 'days', days: 8 } });
    // What others say themselves stays.
    expect(await ruleOf('WIRE')).toMatchObject({ slackDays: 0, lotSizing: { kind: 'lotForLot' } });

    const { id, version } = await item('BAR');
    const view = await manager.call(api.planning.setItemPlanning, { params: { id }, body: { planning: { sizing: '50 each time' }, version } });
    expect(view.rules[0]).toMatchObject({ slackDays: 5, lotSizing: { kind: 'fixed', quantity: '50' } });
    expect(view.ruleGiven['sizing']).toEqual({ value: '50 each time', from: 'item', name: 'BAR' });
    expect(view.ruleGiven['slackDays']).toEqual({ value: '5', from: 'group', name: 'ALL' });
    expect(view.ruleGiven['usable']).toEqual({ value: '1', from: 'plain', name: '' });
  });

  it('is changed with many others in one go, and an empty figure is taken from further up again', async () => {
    const before = await rules();
    const bar = before.find((each) => each.code === 'BAR');
    const wire = before.find((each) => each.code === 'WIRE');
    if (!bar || !wire) throw new Error('rules are missing');
    const { changed } = await manager.call(api.planning.changeRules, {
      body: {
        changes: [
          { id: bar.id, version: bar.version, fields: { safety: '40', leadDays: '6' } },
          { id: wire.id, version: wire.version, fields: { slackDays: '', source: 'none' } },
        ],
      },
    });
    expect(changed).toBe(2);
    expect(await ruleOf('BAR')).toMatchObject({ safety: '40', leadDays: 6, slackDays: 5 });
    expect((await ruleOf('BAR'))?.follows).not.toContain('safety');
    expect(await ruleOf('WIRE')).toMatchObject({ source: 'none', slackDays: 5, follows: ['slackDays'] });
  });

  it('is refused as a whole list where one can not be, naming row and figure', async () => {
    const [one, two] = await rules();
    if (!one || !two) throw new Error('rules are missing');
    const before = company.everything();
    const bad = async (fields: Record<string, string>, version = two.version) =>
      manager.refused(api.planning.changeRules, {
        body: {
          changes: [
            { id: one.id, version: one.version, fields: { leadDays: '9' } },
            { id: two.id, version, fields },
          ],
        },
      });
    expect((await bad({ sizing: 'sometimes' })).errors?.[0]?.field).toBe('changes.1.sizing');
    expect((await bad({ leadDays: '9999' })).errors?.[0]?.field).toBe('changes.1.leadDays');
    expect((await bad({ source: 'steal' })).errors?.[0]?.field).toBe('changes.1.source');
    expect((await bad({ safety: '0.5' })).errors?.[0]?.field).toBe('changes.1.safety');
    expect((await bad({ leadDays: '3' }, two.version - 1)).code).toBe('staleVersion');
    expect(company.everything()).toBe(before);
  });

  it('keeps a group from saying what one of its items can not hold', async () => {
    const before = company.everything();
    const ground = await manager.call(catalogue.getGround);
    const { items: _items, ...group } = ground.groups.find((each) => each.code === 'ALL') ?? { items: 0 };
    const problem = await manager.refused(catalogue.saveGroup, { body: { ...group, planning: { minimum: '2.5' } } });
    expect(problem.detail).toMatch(/BAR in WORKS can't follow/);
    expect(company.everything()).toBe(before);
    expect((await manager.refused(catalogue.saveGroup, { body: { ...group, planning: { demand: 'guess' } } })).errors?.[0]?.field).toBe(
      'planning.demand',
    );
  });

  it('is given in one form, however it was typed, so that nothing follows twice', async () => {
    await saveGroup({ slackDays: '05', usable: '0.970', safety: '95% served', sizing: '12 days' });
    const before = await ruleOf('BAR');
    const { groups } = await manager.call(catalogue.getGround);
    expect(groups.find((each) => each.code === 'ALL')?.planning).toEqual({
      slackDays: '5',
      usable: '0.97',
      safety: '95 % served',
      sizing: '12 days',
    });
    expect((await saveGroup({ slackDays: '5', usable: '0.97', safety: '95 % served', sizing: '12 days' })).followed).toBe(0);
    expect((await ruleOf('BAR'))?.version).toBe(before?.version);
  });

  it('follows the new group of an item that moves, and a new item begins with what its group says', async () => {
    const accounts = { inventoryAccount: '1400', costOfSalesAccount: '5000', revenueAccount: '4000' };
    await manager.call(catalogue.saveGroup, {
      body: { ...accounts, code: 'METAL', name: 'Metal', parent: 'ALL', defaults: { planning: 'buy in WORKS' }, planning: { slackDays: '9' } },
    });
    const made = await manager.call(catalogue.createItem, {
      body: { code: 'NAIL', description: 'Nail', group: 'METAL', unit: 'each', sellPrice: '0.10' },
    });
    expect(made.rules[0]).toMatchObject({ source: 'buy', slackDays: 9, lotSizing: { kind: 'period', days: 12 } });

    const { id, version } = await item('BAR');
    const change = { id, version, fields: { group: 'METAL' } };
    await manager.call(catalogue.changeItems, { body: { changes: [change] } });
    expect(await ruleOf('BAR')).toMatchObject({ slackDays: 9 });
  });
});
