/** What the plan can't be made with is said as a problem, and goes once it is mended. */
import { describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { Planner, openPlanFile } from './planning';
import { closeFile } from './platform/database-file';
import { openCompany, TODAY } from './testing/company';
import { openStoreRoom } from './testing/store-room';

const { catalogue, planning } = api;

describe('what a plan can’t be made with', () => {
  it('is a problem row: a currency that suppliers ask for and that has no exchange rate yet', async () => {
    const other = await openCompany();
    try {
      const administrator = await other.as('administrator');
      const smoker = other.id('item', 'SMOKER');
      await administrator.call(catalogue.saveCurrency, { body: { code: 'GBP', name: 'Pound', date: '2027-02-01', rate: '1.25' } });
      await administrator.call(catalogue.setTerm, { params: { id: smoker }, body: { supplierId: 1, price: '9.00', currency: 'GBP', leadDays: 3 } });
      // The machine's clock has gone back to before the first rate.
      other.terrace.store.sqlite.exec("update exchange_rate set date = '2027-03-02'");
      await administrator.call(planning.runPlan);
      const missing = async () => (await administrator.call(planning.listProblems)).rows.filter((each) => each.code === 'noRate');
      expect(await missing()).toMatchObject([
        { subject: 'GBP', message: expect.stringContaining('no exchange rate of GBP for 2027-03-01') as string },
      ]);
      await administrator.call(catalogue.saveCurrency, { body: { code: 'GBP', name: 'Pound', date: '2027-02-01', rate: '1.25' } });
      await other.terrace.planner.settled();
      expect(await missing()).toEqual([]);
    } finally {
      await other.close();
    }
  });

  it('is a problem row, where nothing can be planned at all; it goes once it can', async () => {
    const other = await openCompany();
    const file = openPlanFile(other.folder);
    try {
      const seen = await other.as('manager');
      const planner = new Planner(other.terrace.store, file, () => ({ today: TODAY, now: `${TODAY}T09:00:00.000Z` }));
      planner.planAllNow();
      planner.noteFailure('some quantity is too large to plan with');
      const rows = async () => (await seen.call(planning.listProblems)).rows.filter((each) => each.code === 'notPlanned');
      expect(await rows()).toMatchObject([{ message: 'some quantity is too large to plan with' }]);
      planner.planAllNow();
      expect(await rows()).toEqual([]);
    } finally {
      closeFile(file);
      await other.close();
    }
  });

  it('is an item that was given up: who still wants it is named, and nothing is suggested that could not be released', async () => {
    const room = await openStoreRoom();
    const { manager, company } = room;
    try {
      const pail = await room.newItem('PAIL');
      await room.confirmed(pail, '5', '2027-03-20');
      const seen = async (): Promise<unknown[]> => {
        await company.terrace.planner.settled();
        const { rows: suggestions } = await manager.call(planning.listSuggestions, { query: { find: 'PAIL' } });
        const { rows: problems } = await manager.call(planning.listProblems);
        return [suggestions.map(({ quantity }) => quantity), problems.filter(({ subject }) => subject === 'PAIL@WORKS')];
      };
      const active = async (on: boolean): Promise<void> => {
        const { code, description, group, unit, version, sellPrice } = await manager.call(catalogue.getItem, { params: { id: pail } });
        await manager.call(catalogue.changeItem, {
          params: { id: pail },
          body: { code, description, group, unit, version, active: on, sellPrice },
        });
      };
      expect(await seen()).toEqual([['5'], []]);
      await active(false);
      expect(await seen()).toMatchObject([
        [],
        [
          {
            code: 'inactiveItem',
            message: 'PAIL is not active any more, but CO-1001/1 still wants it in WORKS: nothing is suggested.',
            itemId: pail,
          },
        ],
      ]);
      await active(true);
      expect(await seen()).toEqual([['5'], []]);
    } finally {
      await company.close();
    }
  });
});
