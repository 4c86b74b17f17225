/** The plan in a company that numbers its documents in its own way: what they look like is nothing that planning goes by. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type ExceptionRow } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

const { planning, selling, buying, production, setup, platform } = api;
let company: Company;
let manager: Client;
const id = (code: string): number => company.id('item', code);
const settled = (): Promise<void> => company.terrace.planner.settled();

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
  const administrator = await company.as('administrator');
  for (const [kind, prefix, byYear] of [
    ['PO', 'BUY', true],
    ['PRD', 'MAKE', false],
    ['CO', 'PO2', true],
    ['TR', 'WAY', true],
  ] as const)
    await administrator.call(setup.saveNumbering, { body: { kind, prefix, byYear, width: 3, next: 7 } });
});
afterAll(() => company.close());

const sentPurchase = async (code: string, quantity: string, dueDate: string) => {
  let made = await manager.call(buying.createPurchase, { body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: id(code), quantity, dueDate }] } });
  made = await manager.call(buying.approvePurchase, { params: { id: made.id }, body: { version: made.version } });
  return manager.call(buying.sendPurchase, { params: { id: made.id }, body: { version: made.version } });
};
const said = async (subject: string): Promise<ExceptionRow | undefined> => {
  await settled();
  return (await manager.call(planning.listExceptions)).rows.find((row) => row.subject === subject);
};
const apply = async (row: ExceptionRow | undefined) => {
  const { seq } = await manager.call(planning.getPlan);
  const seen = { itemId: row?.itemId ?? 0, to: row?.to ?? null, quantity: row?.quantity ?? '' };
  return manager.attempt(planning.applyExceptions, { body: { seq, exceptions: [{ kind: row?.kind ?? '', subject: row?.subject ?? '', seen }] } });
};

describe('under numbers of the company’s own', () => {
  it('what nobody needs is cancelled from the plan, bought or made', async () => {
    const bought = await sentPurchase('WIRE', '400', '2027-06-25');
    expect(bought.number).toBe('BUY-2027-007');
    const made = await manager.call(production.createProduction, {
      body: { itemId: id('FRAME'), warehouseId: 1, quantity: '3', dueDate: '2027-07-01' },
    });
    expect(made.number).toBe('MAKE-007');
    for (const subject of [`${bought.number}/1`, made.number]) {
      const row = await said(subject);
      expect(row, subject).toMatchObject({ kind: 'cancel', remedy: 'Cancel it' });
      expect(await apply(row), subject).toMatchObject({ status: 200 });
    }
    expect(await manager.call(buying.getPurchase, { params: { id: bought.id } })).toMatchObject({ state: 'cancelled' });
    expect(await manager.call(production.getProduction, { params: { id: made.id } })).toMatchObject({ state: 'cancelled' });
  });

  it('what comes too late is brought forward, and what was released is found from the order that wants it', async () => {
    const wanted = await manager.call(selling.createOrder, {
      body: { customerId: 1, warehouseId: 1, requiredDate: '2027-04-20', lines: [{ itemId: id('SMOKER'), quantity: '300' }], confirm: true },
    });
    expect(wanted.number).toBe('PO2-2027-007');
    await settled();
    const suggestion = (await manager.call(planning.listSuggestions)).rows.find((row) => row.code === 'SMOKER');
    const { seq } = await manager.call(planning.getPlan);
    const { documents } = await manager.call(planning.release, {
      body: { seq, suggestions: [{ name: suggestion?.id ?? '', seen: { quantity: suggestion?.quantity ?? '', due: suggestion?.due ?? '' } }] },
    });
    expect(documents).toMatchObject([{ kind: 'purchaseOrder', number: 'BUY-2027-008' }]);
    const purchaseId = documents[0]?.id ?? 0;
    const trail = await manager.call(platform.trail, { params: { kind: 'customerOrder', id: wanted.id } });
    expect(JSON.stringify(trail)).toContain('BUY-2027-008');
    // It is moved beyond the day on which it is wanted; the plan asks for it back.
    const late = await manager.call(buying.getPurchase, { params: { id: purchaseId } });
    const { historyId } = await manager.call(planning.getPlanCopy);
    const move = { kind: 'move' as const, id: `${late.number}/1`, date: '2027-05-14' };
    await manager.call(planning.adopt, { body: { historyId, suppositions: [move] } });
    const row = await said(`${late.number}/1`);
    expect(row).toMatchObject({ kind: 'bringForward', remedy: 'Move it' });
    // What was seen before it was moved is seen no more.
    expect(await manager.refused(planning.adopt, { body: { historyId, suppositions: [{ ...move, date: '2027-05-21' }] } })).toMatchObject({
      code: 'staleVersion',
    });
    expect(await apply(row)).toMatchObject({ status: 200 });
    expect((await manager.call(buying.getPurchase, { params: { id: purchaseId } })).lines[0]?.dueDate).toBe(row?.to);
  });

  it('nothing is done by itself about what was ordered by a customer', async () => {
    const wanted = await manager.call(selling.createOrder, {
      body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-01', lines: [{ itemId: id('FRAME'), quantity: '60' }], confirm: true },
    });
    await settled();
    const { rows } = await manager.call(planning.listExceptions);
    const own = rows.filter((row) => row.subject.startsWith(wanted.number));
    expect(own.map(({ remedy }) => remedy)).toEqual(own.map(() => ''));
    for (const row of own) expect(await apply(row)).toMatchObject({ status: 409, body: { code: 'notOffered' } });
  });
});
