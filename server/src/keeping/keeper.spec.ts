/** Backups by themselves: made when due, each opened and checked, the oldest dropped; what goes wrong is told and takes nothing away. */
import { existsSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { api } from '@terrace/contract';
import { keepSetting } from '../platform/settings';
import { openCompany, type Client, type Company } from '../testing/company';

const { setup, platform } = api;
const DAY = 24 * 3_600_000;
let company: Company;
let administrator: Client;

beforeAll(async () => {
  vi.useFakeTimers({ toFake: ['Date'] });
  company = await openCompany();
  administrator = await company.as('administrator');
});
afterAll(async () => {
  await company.close();
  vi.useRealTimers();
});

const schedule = { on: true, at: '02:00', keep: 2, folder: 'backups' };
const there = (): string[] => readdirSync(join(company.folder, 'backups')).sort();
const made = async (): Promise<string[]> => (await administrator.call(setup.backUpNow)).backups.map(({ name }) => name);
/** Backups are named by the second: the clock goes on by one. */
const aSecondLater = (): unknown => vi.setSystemTime(Date.now() + 1000);

describe('a backup', () => {
  it('is made, opened and checked, for its owner alone; what is in it can be looked at', async () => {
    expect(await administrator.call(setup.keeping)).toMatchObject({ lastGood: null, old: true, last: '', backups: [] });
    const view = await administrator.call(setup.backUpNow);
    expect(view.last).toMatch(/^terrace-\d{8}-\d{6}\.backup: \d+\.\d MB, opened and checked$/);
    expect([view.old, view.backups.length]).toEqual([false, 1]);
    const [{ name } = { name: '' }] = view.backups;
    expect(statSync(join(company.folder, 'backups', name)).mode & 0o777).toBe(0o600);
    const look = await administrator.call(setup.lookIntoBackup, { params: { name } });
    expect(look).toMatchObject({ company: 'Terrace', lastAt: '2027-03-01T09:00:00.000Z' });
    expect(look.counts).toContainEqual({ what: 'items', n: 5 });
    expect(await administrator.refused(setup.lookIntoBackup, { params: { name: 'terrace-20270101-020000.backup' } })).toMatchObject({ status: 404 });
    for (const bad of ['../terrace.db', 'terrace.db'])
      expect((await administrator.agent.get(`/api/setup/keeping/backups/${encodeURIComponent(bad)}`)).status).toBe(400);
  });

  it('lets the oldest go, once a newer one is good', async () => {
    await administrator.call(setup.saveBackups, { body: schedule });
    aSecondLater();
    const two = await made();
    aSecondLater();
    const three = await made();
    expect(two).toHaveLength(2);
    expect(three).toHaveLength(2);
    expect(three[1]).toBe(two[0]);
    expect(there()).toEqual(three.toReversed());
  });

  it('that can’t be made takes nothing away, and is told', async () => {
    const before = there();
    writeFileSync(join(company.folder, 'a-file'), '');
    expect(await administrator.refused(setup.saveBackups, { body: { ...schedule, folder: 'a-file/backups' } })).toMatchObject({
      code: 'badFolder',
      details: { field: 'folder' },
    });
    expect(await administrator.refused(setup.saveBackups, { body: { ...schedule, folder: '.' } })).toMatchObject({ code: 'badFolder' });
    // The disk went away after that was said.
    keepSetting(company.terrace.store, 'backup.schedule', JSON.stringify({ ...schedule, folder: 'a-file/backups' }));
    const { last, lastGood } = await administrator.call(setup.backUpNow);
    expect(last).toContain('No backup could be made');
    expect(lastGood).not.toBeNull();
    expect(there()).toEqual(before);
    const manager = await company.as('manager');
    expect((await manager.call(platform.notices)).rows[0]).toMatchObject({
      kind: 'keeping',
      text: expect.stringContaining('No backup could be made') as string,
    });
    await administrator.call(setup.saveBackups, { body: schedule });
  });

  it('is made by itself once it is due, and not before', async () => {
    const { terrace } = company;
    const before = there();
    await terrace.backups.lookAfter();
    const after = there();
    keepSetting(terrace.store, 'backup.good', new Date(Date.now() - 2 * DAY).toISOString());
    aSecondLater();
    await terrace.backups.lookAfter();
    expect([after, there().length, there().at(-1) !== before.at(-1)]).toEqual([before, 2, true]);
    keepSetting(terrace.store, 'backup.schedule', JSON.stringify({ ...schedule, on: false }));
    keepSetting(terrace.store, 'backup.good', new Date(Date.now() - 3 * DAY).toISOString());
    const last = there();
    await terrace.backups.lookAfter();
    expect(there()).toEqual(last);
  });

  it('leaves no half ones behind', () => {
    expect(there().filter((name) => name.includes('.part'))).toEqual([]);
    expect(existsSync(join(company.folder, 'terrace.db'))).toBe(true);
    company.sound();
  });
});
