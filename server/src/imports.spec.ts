import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import excel from 'exceljs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, importKinds, type ImportKind, type ImportView } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';
import { SHEET, packed, workbookOf } from './testing/packed';

const { bulk, catalogue } = api;
let company: Company;
let manager: Client;

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterAll(() => company.close());

async function send(kind: ImportKind, name: string, content: string | Buffer) {
  return manager.agent.post(`/api/bulk/files/${kind}`).attach('file', Buffer.from(content), name);
}

async function sent(kind: ImportKind, content: string | Buffer, name = 'file.csv'): Promise<ImportView> {
  const answer = await send(kind, name, content);
  expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  return answer.body as ImportView;
}

async function settled(id: number): Promise<ImportView> {
  for (;;) {
    const view = await manager.call(bulk.getImport, { params: { id } });
    if (view.state !== 'trying' && view.state !== 'taking') return view;
    await new Promise((done) => setTimeout(done, 20));
  }
}

const mappingOf = (view: ImportView) => Object.fromEntries(view.headings.map((each) => [each.heading, each.column]));

async function tried(
  view: ImportView,
  more: { decimals?: 'comma' | 'point'; dates?: 'dayFirst' | 'monthFirst'; mapping?: Record<string, string> } = {},
) {
  const { decimals = view.decimals, dates = view.dates, mapping = mappingOf(view) } = more;
  await manager.call(bulk.tryImport, { params: { id: view.id }, body: { mapping, decimals, dates } });
  return settled(view.id);
}

async function taken(id: number, goodOnly = false): Promise<ImportView> {
  await manager.call(bulk.takeImport, { params: { id }, body: { goodOnly } });
  return settled(id);
}

const rowsOf = async (id: number) => (await manager.call(bulk.importRows, { params: { id } })).rows;
const item = (code: string) => manager.call(catalogue.getItem, { params: { id: company.id('item', code) } });

describe('a file of items', () => {
  const content =
    'Name;Item code;List price;Group;Unit;Ignored\nVeil;VEIL;1.250,50;ALL;each;x\nFrame, changed;FRAME;3,40;ALL;each;x\nBroken;BROKEN;much;ALL;each;x\nNowhere;NOWHERE;1;GONE;each;x\n';

  it('is mapped by its headings in any order, its decimal sign seen, and tried without a trace', async () => {
    const view = await sent('items', content);
    expect(view).toMatchObject({ state: 'read', rows: 4, decimals: 'comma' });
    expect(mappingOf(view)).toEqual({
      Name: 'description',
      'Item code': 'code',
      'List price': 'sellPrice',
      Group: 'group',
      Unit: 'unit',
      Ignored: '',
    });
    const before = company.everything().replace(/import.*\n/g, '');
    const dry = await tried(view);
    expect(dry).toMatchObject({ state: 'tried', counts: { added: 1, changed: 1, same: 0, refused: 2 } });
    expect(company.everything().replace(/import.*\n/g, '')).toBe(before);
    expect(await rowsOf(view.id)).toMatchObject([
      { row: 2, outcome: 'added', name: 'VEIL' },
      { row: 3, outcome: 'changed', name: 'FRAME', what: 'description: FRAME for hives → Frame, changed; sellPrice: 3.20 → 3.40' },
      { row: 4, outcome: 'refused', name: 'BROKEN', field: 'sellPrice' },
      { row: 5, outcome: 'refused', name: 'NOWHERE', field: 'group' },
    ]);
    expect(await manager.refused(bulk.takeImport, { params: { id: view.id }, body: { goodOnly: false } })).toMatchObject({ code: 'someRefused' });
    expect(await taken(view.id, true)).toMatchObject({ state: 'taken', counts: { added: 1, changed: 1, refused: 2 } });
    expect(await item('VEIL')).toMatchObject({ sellPrice: '1250.50' });
    expect((await item('FRAME')).bom).toHaveLength(2);
    const history = await manager.call(api.platform.history, { params: { kind: 'item', id: company.id('item', 'FRAME') } });
    expect(JSON.stringify(history)).toContain(`changed by import ${view.number}`);
  });

  it('remembers where the columns of such a file go', async () => {
    const view = await sent('items', 'My code,My words,G,U\nA-1,First,ALL,each\n');
    expect(Object.values(mappingOf(view)).filter(Boolean)).toEqual([]);
    expect(
      await manager.refused(bulk.tryImport, { params: { id: view.id }, body: { mapping: {}, decimals: 'point', dates: 'dayFirst' } }),
    ).toMatchObject({
      code: 'columnsMissing',
    });
    const mapping = { 'My code': 'code', 'My words': 'description', G: 'group', U: 'unit' };
    expect((await tried(view, { mapping })).counts.added).toBe(1);
    expect(mappingOf(await sent('items', 'U,G,My words,My code\neach,ALL,Second,A-2\n'))).toEqual(mapping);
  });

  it('goes out and comes in again without a change, as CSV and as XLSX', async () => {
    for (const kind of ['items', 'units', 'terms', 'suppliers', 'customers', 'boms', 'openingStock'] as const) {
      for (const type of ['csv', 'xlsx'] as const) {
        const file = await manager.agent
          .get(`/api/bulk/files/${kind}?type=${type}`)
          .buffer()
          .parse((response, done) => {
            const chunks: Buffer[] = [];
            response.on('data', (chunk: Buffer) => chunks.push(chunk));
            response.on('end', () => done(null, Buffer.concat(chunks)));
          });
        const view = await sent(kind, file.body as Buffer, `${kind}.${type}`);
        const dry = await tried(view);
        expect([kind, type, dry.counts, await rowsOf(view.id)]).toEqual([kind, type, { added: 0, changed: 0, refused: 0, same: view.rows }, []]);
      }
    }
  });

  it('keeps text that begins like a formula as text, and refuses formulas', async () => {
    const body = { code: 'RISKY', description: '=1+1', group: 'ALL', unit: 'each', sellingNotes: "'@home" };
    await manager.call(catalogue.createItem, { body });
    const file = await manager.agent.get('/api/bulk/files/items?type=csv');
    expect(file.text).toContain("'=1+1");
    const dry = await tried(await sent('items', file.text));
    expect(dry.counts).toMatchObject({ changed: 0, refused: 0 });
    const formulas = await tried(await sent('items', 'Code,Description,Group\nEVIL,=A1+B1,ALL\n'));
    expect(formulas.counts.refused).toBe(1);
    const book = new excel.Workbook();
    const sheet = book.addWorksheet('x');
    sheet.addRow(['Code', 'Description', 'Group', 'Selling price']);
    sheet.addRow(['EVIL', 'x', 'ALL', { formula: '1+1', result: 2 }]);
    const view = await tried(await sent('items', Buffer.from(await book.xlsx.writeBuffer()), 'x.xlsx'));
    expect((await rowsOf(view.id))[0]).toMatchObject({ outcome: 'refused', field: 'sellPrice' });
  });

  it('takes figures of a workbook as they are, whatever the decimal sign of its texts', async () => {
    const book = new excel.Workbook();
    const sheet = book.addWorksheet('x');
    sheet.addRow(['Code', 'Description', 'Group', 'Unit', 'Selling price', 'Buying price']);
    sheet.addRow(['XL-1', 'x', 'ALL', 'each', 0.1 + 0.2, '1,5']);
    const view = await sent('items', Buffer.from(await book.xlsx.writeBuffer()), 'x.xlsx');
    expect((await tried(view, { decimals: 'comma' })).counts.added).toBe(1);
    await taken(view.id);
    expect(await item('XL-1')).toMatchObject({ sellPrice: '0.30', buyPrice: '1.50' });
  });
});

describe('other files', () => {
  it('rows of one bill of materials are taken together', async () => {
    const view = await tried(await sent('boms', 'Item,Component,Quantity\nFRAME,BAR,4\nSMOKER,WIRE,1.25\nFRAME,WIRE,3\n'));
    expect(view.counts).toEqual({ added: 1, changed: 2, same: 0, refused: 0 });
    await taken(view.id);
    expect((await item('FRAME')).bom.map((line) => line.quantity)).toEqual(['4', '3']);
  });
  it('one bad row refuses the whole bill, and only that', async () => {
    const view = await tried(await sent('boms', 'Item,Component,Quantity\nFRAME,BAR,5\nFRAME,NOTHING,1\nSTRIPS,BAR,1\n'));
    expect(view.counts).toEqual({ added: 1, changed: 0, same: 0, refused: 2 });
  });
  it('opening stock is posted with its cost, and not over what lies there', async () => {
    const view = await tried(
      await sent('openingStock', 'Item,Warehouse,Bin,Quantity,Unit cost\nSTRIPS,WORKS,A-01,12,4.50\nFRAME,WORKS,A-01,99,1\nBAR,WORKS,A-01,0.5,1\n'),
    );
    expect(view.counts).toMatchObject({ added: 1, refused: 2 });
    await taken(view.id, true);
    company.sound();
  });
  it('opening stock names its lots and serial numbers, and comes in again without a change', async () => {
    const kept = (code: string, tracking: 'lot' | 'serial') =>
      manager.call(api.catalogue.createItem, { body: { code, description: `${code} opened`, group: 'ALL', unit: 'each', sellPrice: '1', tracking } });
    await kept('OPENLOT', 'lot');
    await kept('OPENSER', 'serial');
    const head = 'Item,Warehouse,Bin,Quantity,Unit cost,Lot,Expiry,Serial numbers\n';
    const lines = 'OPENLOT,WORKS,A-01,5,2.00,,,\nOPENSER,WORKS,A-01,3,9.00,,,S-1 S-2\nOPENLOT,WORKS,A-01,5,-2.00,L-1,2027-12-01,\n';
    const bad = await tried(await sent('openingStock', head + lines));
    expect(bad.counts).toMatchObject({ added: 0, refused: 3 });
    expect((await rowsOf(bad.id)).map((row) => row.field)).toEqual(['', 'serials', 'unitCost']);
    const good = await tried(
      await sent(
        'openingStock',
        `${head}OPENLOT,WORKS,A-01,5,2.00,L-1,2027-12-01,\nOPENLOT,WORKS,A-01,4,2.00,L-2,2028-01-01,\nOPENSER,WORKS,A-01,3,9.00,,,S-1..S-3\n`,
      ),
    );
    expect(good.counts).toMatchObject({ added: 3, refused: 0 });
    await taken(good.id, false);
    company.sound();
    const file = await manager.agent.get('/api/bulk/files/openingStock?type=csv');
    expect(file.text).toContain('L-2');
    expect(file.text).toContain('S-1 S-2 S-3');
    expect((await tried(await sent('openingStock', file.text))).counts).toMatchObject({ added: 0, refused: 0 });
  });
  it('groups take from the group above what they don’t say, and come in again without a change', async () => {
    const content = 'Code;Name;Above;Unit of its items;Planned\nTIMBER;Timber;ALL;m;buy in WORKS\nOAK;Oak;TIMBER;;\nLOST;Lost;NOWHERE;;\n';
    const view = await tried(await sent('groups', content));
    expect(view.counts).toMatchObject({ added: 2, refused: 1 });
    await taken(view.id, true);
    const { groups } = await manager.call(catalogue.getGround);
    expect(groups.find(({ code }) => code === 'OAK')).toMatchObject({ parent: 'TIMBER', inventoryAccount: '1400', revenueAccount: '4000' });
    const again = await manager.agent.get('/api/bulk/files/groups?type=csv');
    expect((await tried(await sent('groups', again.text))).counts).toMatchObject({ added: 0, changed: 0, refused: 0 });
    expect((await taken((await tried(await sent('items', 'Code,Description,Group\nPLANK,Oak plank,OAK\n'))).id)).counts.added).toBe(1);
    expect(await item('PLANK')).toMatchObject({ unit: 'm' });
    expect((await item('PLANK')).rules).toMatchObject([{ warehouse: 'WORKS', source: 'buy' }]);
  });

  it('items bring their supplier along, who is set up where there is none', async () => {
    const content =
      'Code;Description;Group;Unit;Supplier;Supplier’s name;Supplier’s price;Lead days\nLAMP;Lamp;ALL;each;LIGHT;Fennbridge Lamps;12.40;7\nWICK;Wick;ALL;each;LIGHT;;0.30;7\nSHADE;Shade;ALL;each;NONE;;4;2\nBULB;Bulb;ALL;each;LIGHT;;;3\n';
    const view = await tried(await sent('items', content));
    expect(view.counts).toMatchObject({ added: 2, refused: 2 });
    expect((await rowsOf(view.id)).filter(({ outcome }) => outcome === 'refused').map(({ name, what }) => [name, what.slice(0, 30)])).toEqual([
      ['SHADE', 'There is no supplier "NONE": g'],
      ['BULB', 'Price is missing.'],
    ]);
    await taken(view.id, true);
    expect((await item('WICK')).terms).toMatchObject([{ supplier: 'Fennbridge Lamps', price: '0.30', leadDays: 7, preferred: true }]);
    // A dearer supplier: nothing but its price changes.
    const dearer = await tried(
      await sent('items', 'Code;Description;Group;Supplier;Supplier’s price\nLAMP;Lamp;ALL;LIGHT;13\nWICK;Wick;ALL;LIGHT;0.30\n'),
    );
    expect(dearer.counts).toMatchObject({ changed: 1, same: 1 });
    company.sound();
  });

  it.each([...importKinds])('an example of %s is a file of that kind', async (kind) => {
    const example = await manager.agent.get(`/api/bulk/files/${kind}?type=csv&content=sample`);
    expect(example.headers['content-disposition']).toContain(`${kind}-sample.csv`);
    const view = await sent(kind, example.text);
    expect(view.rows).toBeGreaterThan(0);
    expect(view.headings.every(({ column }) => column !== '')).toBe(true);
    // What it names need not be there, but every cell can be read.
    const refused = (await tried(view), await rowsOf(view.id)).filter(
      ({ outcome, what }) => outcome === 'refused' && !/^There is no |is no way to plan/.test(what),
    );
    expect(refused).toEqual([]);
  });

  it('terms change what is named and leave the rest', async () => {
    const view = await tried(await sent('terms', 'Item,Supplier,Price,Lead days,Breaks\nSMOKER,METAL,16.50,4,100: 15.20\nBAR,NOBODY,1,2,\n'));
    expect(view.counts).toMatchObject({ changed: 1, refused: 1 });
    await taken(view.id, true);
    expect((await item('SMOKER')).terms).toMatchObject([{ price: '16.50', preferred: true, breaks: [{ from: '100', price: '15.20' }] }]);
  });
  it('prices come with their breaks as rows', async () => {
    await manager.call(api.selling.createPriceList, { body: { code: 'L1', name: 'One' } });
    const view = await tried(await sent('prices', 'Price list,Item,From quantity,Value\nL1,FRAME,0,3\nL1,FRAME,100,2.5\nL1,,0,9\n'));
    expect(view.counts).toMatchObject({ added: 2, refused: 1 });
    await taken(view.id, true);
    const { rows } = await manager.call(api.selling.listPriceEntries, { params: { id: 1 } });
    expect(rows[0]?.breaks).toEqual([
      { from: '0', value: '3.00' },
      { from: '100', value: '2.50' },
    ]);
    const file = await manager.agent.get('/api/bulk/files/prices?type=csv');
    expect((await tried(await sent('prices', file.text))).counts).toEqual({ added: 0, changed: 0, same: 2, refused: 0 });
  });
});

const inline = (text: string): string => `<c r="A1" t="inlineStr"><is><t>${text}</t></is></c>`;

describe('a bad file', () => {
  it.each<[string, string, string | Buffer, string]>([
    ['text named xlsx', 'x.xlsx', 'Code,Description\nA,B\n', 'notWhatItSays'],
    ['a workbook named csv', 'x.csv', Buffer.from([0x50, 0x4b, 3, 4, 0, 0]), 'notWhatItSays'],
    ['a picture', 'x.png', Buffer.from([0x89, 0x50]), 'notWhatItSays'],
    ['another encoding', 'x.csv', Buffer.from('Code,Description\nA,ok\nB,sch\xf6n\n', 'latin1'), 'wrongEncoding'],
    ['nothing', 'x.csv', '\n', 'noHeadings'],
    ['one heading twice', 'x.csv', 'Code,Code\n1,2\n', 'twoHeadings'],
    ['an open quote', 'x.csv', 'Code,Description\n"A,B\n', 'unreadable'],
    ['half a workbook', 'x.xlsx', Buffer.from([0x50, 0x4b, 3, 4, 0, 0, 0, 0]), 'unreadable'],
    ['a workbook that says it is huge', 'x.xlsx', packed({ [SHEET]: Buffer.alloc(10) }, 2_000_000_000), 'tooLarge'],
    [
      'a small workbook that unpacks to a thousand times its size',
      'x.xlsx',
      workbookOf(`<row r="1">${inline('A'.repeat(60_000_000))}</row>`),
      'tooLarge',
    ],
    ['a heading of millions of letters', 'x.xlsx', workbookOf(`<row r="1">${inline('A'.repeat(25_000_000))}</row>`), 'tooLarge'],
    ['a tag of millions of letters', 'x.xlsx', workbookOf(`<row r="1"><c r="${'A'.repeat(25_000_000)}"><v>1</v></c></row>`), 'tooLarge'],
    ['a row of millions of cells', 'x.xlsx', workbookOf(`<row r="1">${'<c/>'.repeat(6_000_000)}</row>`), 'noHeadings'],
    ['a heading longer than any name', 'x.csv', `Code,${'D'.repeat(121)}\nA,B\n`, 'tooLarge'],
    ['a line of millions of letters', 'x.csv', `Code,Description\nA,${'B'.repeat(50_000_000)}\n`, 'tooLarge'],
    ['a file of one line', 'x.csv', 'x'.repeat(50_000_000), 'tooLarge'],
    ['a cell that holds a book', 'x.csv', `Code,Description\nA,${'B'.repeat(40_000)}\n`, 'tooLarge'],
    ['a workbook that is larger than it says', 'x.xlsx', packed({ [SHEET]: Buffer.alloc(5_000_000) }, 10), 'unreadable'],
  ])('%s is refused, and nothing of it kept', async (_name, name, content, code) => {
    const before = company.everything();
    const answer = await send('items', name, content);
    expect(answer.status).toBeGreaterThanOrEqual(400);
    expect(JSON.parse(answer.text)).toMatchObject({ code });
    // What was sent is not sent back.
    expect(answer.text.length).toBeLessThan(1500);
    expect(company.everything()).toBe(before);
    expect(readdirSync(join(company.folder, 'imports')).filter((each) => each.endsWith('.part'))).toEqual([]);
  });

  it('with headings that every object has of itself is mapped by what it says', async () => {
    const view = await sent('items', 'Code,Description,constructor,__proto__\nX-1,A thing,a,b\n');
    expect(view.headings.map((each) => [each.heading, each.column])).toEqual([
      ['Code', 'code'],
      ['Description', 'description'],
      ['constructor', ''],
      ['__proto__', ''],
    ]);
  });

  it('with 10,000 bad rows says so of each, and takes none', async () => {
    const rows = Array.from({ length: 10_000 }, (_, index) => `B-${index},,ALL`).join('\n');
    const view = await tried(await sent('items', `Code,Description,Group\n${rows}\n`));
    expect(view.counts).toEqual({ added: 0, changed: 0, same: 0, refused: 10_000 });
    const page = await manager.call(bulk.importRows, { params: { id: view.id }, query: { outcome: 'refused', offset: 9_990 } });
    expect(page).toMatchObject({ total: 10_000 });
    expect(page.rows.at(-1)).toMatchObject({ row: 10_001, what: 'Description is missing.' });
    expect(await manager.refused(bulk.takeImport, { params: { id: view.id }, body: { goodOnly: true } })).toMatchObject({ code: 'nothingChanges' });
  });

  it('is not for everybody', async () => {
    const viewer = await company.as('viewer');
    const answer = await viewer.agent.post('/api/bulk/files/items').attach('file', Buffer.from('Code\nA\n'), 'x.csv');
    expect(JSON.parse(answer.text)).toMatchObject({ code: 'notAllowed' });
  });
});

describe('a long file', () => {
  const rows = Array.from({ length: 6000 }, (_, index) => `L-${index},Long ${index},ALL,each`).join('\n');
  it('can be stopped while it is taken, and nothing of it stays; commands wait and then go on', async () => {
    const view = await tried(await sent('items', `Code,Description,Group,Unit\n${rows}\n`));
    expect(view.counts.added).toBe(6000);
    const before = (await manager.call(catalogue.listItems, { query: { limit: 1 } })).total;
    await manager.call(bulk.takeImport, { params: { id: view.id }, body: { goodOnly: false } });
    const waiting = manager.call(catalogue.createItem, { body: { code: 'MEANWHILE', description: 'x', group: 'ALL', unit: 'each' } });
    // Signing in and sending another file write, too: they wait, and are not refused.
    const [signingIn, sending] = [company.as('buyer'), send('units', 'units.csv', 'Code,Name,Decimals\neach,each,0\n')];
    await manager.call(bulk.stopImport, { params: { id: view.id } });
    expect(await settled(view.id)).toMatchObject({ state: 'tried', problem: expect.stringContaining('nothing of it was taken') as string });
    await waiting;
    await signingIn;
    expect((await sending).status).toBe(200);
    expect((await manager.call(catalogue.listItems, { query: { limit: 1 } })).total).toBe(before + 1);
    expect(await taken(view.id)).toMatchObject({ state: 'taken', done: 6000 });
    expect((await manager.call(catalogue.listItems, { query: { limit: 1 } })).total).toBe(before + 6001);
    expect(await manager.refused(bulk.takeImport, { params: { id: view.id }, body: { goodOnly: false } })).toMatchObject({ code: 'takenAlready' });
    expect((await manager.call(bulk.listImports)).find((each) => each.id === view.id)).toMatchObject({ state: 'taken', added: 6000, who: 'manager' });
    company.sound();
  });
});
