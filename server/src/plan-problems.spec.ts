/** What the plan can't be made with is said as a problem, and goes once it is mended. */
import { describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { Planner, openPlanFile } from './planning';
import { closeFile } from './platform/database-file';
import { openCompany, TODAY } from './testing/company';

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
});
