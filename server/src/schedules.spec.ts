/** Files that come in and go out by themselves: taken once and whole, put aside with the reason, written every night. */
import { existsSync, mkdirSync, readFileSync, readdirSync, symlinkSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type BodyIn } from '@terrace/contract';
import { openCompany, TODAY, type Client, type Company } from './testing/company';

const { catalogue, platform, setup } = api;
let company: Company;
let administrator: Client;
type Input = BodyIn<typeof setup.saveSchedule>;
const CUSTOMERS: Input = { name: 'Shop customers', direction: 'in', kind: 'customers', folder: 'shop/in', at: '02:00', active: true };
const STOCK: Input = { name: 'Stock for the shop', direction: 'out', kind: 'stock', folder: 'shop/out', at: '02:00', active: true };
const HEADINGS = 'Code,Name,Address,Payment days';

beforeEach(async () => {
  company = await openCompany();
  administrator = await company.as('administrator');
});
afterEach(async () => {
  company.sound();
  await company.close();
});

const folder = (...names: string[]): string => join(company.folder, 'exchange', 'shop', ...names);
const save = (body: Input) => administrator.call(setup.saveSchedule, { body });

/** A file that was put there a minute ago. */
function put(name: string, ...rows: string[]): void {
  const path = folder('in', name);
  writeFileSync(path, [HEADINGS, ...rows].join('\n'));
  const before = new Date(Date.now() - 60_000);
  utimesSync(path, before, before);
}
const look = (): Promise<void> => company.terrace.schedules.look();
const state = async () => (await administrator.call(setup.schedules)).schedules[0];
const customers = async (): Promise<string[]> => (await administrator.call(catalogue.listCustomers)).rows.map(({ code }) => code);

describe('a folder that is watched', () => {
  beforeEach(() => save(CUSTOMERS));

  it('takes what lies there, once, and puts it aside', async () => {
    put('new.csv', 'ALDER,Alder Lane Orchard,Alder Lane 3,30', 'BIRCH,Birch Farm,Birch Road 1,14');
    await look();
    expect(await customers()).toEqual(expect.arrayContaining(['ALDER', 'BIRCH']));
    expect((await state())?.lastWords).toMatch(/^new\.csv: 2 added, 0 changed, as IM-/);
    expect(readdirSync(folder('in'))).toEqual(['taken']);
    put('again.csv', 'ALDER,Alder Lane Orchard,Alder Lane 3,30', 'BIRCH,Birch Farm,Birch Road 1,14');
    await look();
    expect((await state())?.lastWords).toMatch(/again\.csv: the same file was taken as IM-/);
    expect(readdirSync(folder('in', 'taken')).sort()).toEqual(['again.csv', 'new.csv']);
  });

  it('takes nothing of a file in which a row is bad; why stands beside it, and who looks after the company is told once', async () => {
    put('bad.csv', 'ALDER,Alder Lane Orchard,Alder Lane 3,30', 'CEDAR,Cedar Hall,Hall 1,soon');
    await look();
    expect(await customers()).not.toContain('ALDER');
    expect((await state())?.lastWords).toBe('bad.csv: 1 of 2 rows are refused, so nothing of it was taken');
    await expect.poll(() => existsSync(folder('in', 'refused', 'bad.csv.why.csv'))).toBe(true);
    expect(readFileSync(folder('in', 'refused', 'bad.csv.why.csv'), 'utf8')).toMatch(/CEDAR.*soon/);
    const notices = await administrator.call(platform.notices);
    expect(notices.rows.filter(({ text }) => text.startsWith('Shop customers: bad.csv'))).toHaveLength(1);
  });

  it('leaves what is still being written, what is no file of its own, and what is no list', async () => {
    mkdirSync(folder('in'), { recursive: true });
    writeFileSync(folder('in', 'growing.csv'), `${HEADINGS}\nALDER,`);
    symlinkSync(join(company.folder, 'terrace.db'), folder('in', 'link.csv'));
    writeFileSync(folder('in', 'note.pdf'), 'no list');
    await look();
    expect(readdirSync(folder('in')).sort()).toEqual(['growing.csv', 'link.csv', 'note.pdf']);
    expect((await state())?.lastRun).toBeNull();
  });

  it('does nothing in the name of somebody who may not, or is gone', async () => {
    company.terrace.store.sqlite.prepare("update file_schedule set user_id = (select id from user where login = 'viewer')").run();
    put('new.csv', 'ALDER,Alder Lane Orchard,Alder Lane 3,30');
    await look();
    expect(await customers()).not.toContain('ALDER');
    company.terrace.store.sqlite.prepare("update user set active = 0 where login = 'viewer'").run();
    await look();
    expect((await state())?.lastWords).toMatch(/not active any more/);
    expect(readdirSync(folder('in'))).toContain('new.csv');
  });
});

describe('a list that is written', () => {
  it('is there once a day, whole, and anew when somebody asks', async () => {
    await save(STOCK);
    await look();
    const file = folder('out', `stock-${TODAY}.csv`);
    expect(readFileSync(file, 'utf8')).toMatch(/SMOKER/);
    expect((await state())?.lastWords).toBe(`stock-${TODAY}.csv: 4 rows`);
    writeFileSync(file, '');
    await look();
    expect(readFileSync(file, 'utf8')).toBe('');
    await administrator.call(setup.runSchedule, { params: { id: (await state())?.id ?? 0 } });
    expect(readFileSync(file, 'utf8')).toMatch(/SMOKER/);
    await company.terrace.schedules.look(Date.now() + 86_400_000);
    expect(readdirSync(folder('out'))).toEqual([`stock-${TODAY}.csv`]);
  });

  it('can be everything of a kind, as it can be sent in again', async () => {
    await save({ ...STOCK, kind: 'items' });
    await look();
    expect(readFileSync(folder('out', `items-${TODAY}.csv`), 'utf8')).toMatch(/FRAME/);
  });
});

describe('schedules', () => {
  it('are refused where they make no sense, each with the field', async () => {
    await save(CUSTOMERS);
    const refused = async (more: Partial<Input>) => (await administrator.refused(setup.saveSchedule, { body: { ...STOCK, ...more } })).code;
    expect(await refused({ direction: 'in' })).toBe('notIn');
    expect(await refused({ name: 'Shop customers' })).toBe('alreadyThere');
    expect(await refused({ folder: 'shop/in' })).toBe('folderTaken');
    for (const outside of ['../out', '/etc', 'a/../b', 'a//b', '']) expect(await refused({ folder: outside }), outside).toBe('badInput');
  });

  it('end when they are dropped; what lies in the folder stays', async () => {
    await save(CUSTOMERS);
    put('new.csv', 'ALDER,Alder Lane Orchard,Alder Lane 3,30');
    const found = await state();
    expect((await administrator.call(setup.dropSchedule, { params: { id: found?.id ?? 0 } })).schedules).toEqual([]);
    await look();
    expect(readdirSync(folder('in'))).toEqual(['new.csv']);
  });
});
