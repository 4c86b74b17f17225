/** A safety stock that goes by the past is computed anew as the past grows, without anybody saving its rule again. */
import { afterEach, beforeEach, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { reviewSafeties } from './planning';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

let room: StoreRoom;

beforeEach(async () => {
  room = await openStoreRoom();
});
afterEach(() => room.company.close());

it('is computed with the day, and with a plan that somebody asks for; the plan counts with it', async () => {
  const { company } = room;
  const pail = await room.newItem('PAIL');
  const rule = { warehouseId: 1, source: 'buy' as const, leadDays: 0, safety: '0', minimum: '0', multiple: '0', slackDays: 0 };
  await room.manager.call(api.planning.setRule, { params: { id: pail }, body: { ...rule, safetyBy: { by: 'days', days: 10 } } });
  const safety = async (): Promise<string | undefined> => (await room.manager.call(api.catalogue.getItem, { params: { id: pail } })).rules[0]?.safety;
  expect(await safety()).toBe('0');
  // Ten on one of five working days: two a day, twenty for ten days.
  await room.receive(pail, '10', '2.00');
  await room.confirmed(pail, '10', '2027-03-01');
  company.turnTo('2027-03-08');
  room.manager = await company.as('manager');
  expect(await safety()).toBe('0');
  await room.manager.call(api.planning.runPlan);
  expect(await safety()).toBe('20');
  const { rows } = await room.manager.call(api.planning.listSuggestions, { query: { find: 'PAIL' } });
  expect(rows.map(({ quantity }) => quantity)).toEqual(['20']);
  // A day later as many stand over six working days.
  company.turnTo('2027-03-09');
  await reviewSafeties(company.terrace.commands);
  room.manager = await company.as('manager');
  expect(await safety()).toBe('17');
});
