/** Workbooks as other programs write them: what a cell holds is what is read, every time. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import excel from 'exceljs';
import fc from 'fast-check';
import { afterAll, describe, expect, it } from 'vitest';
import { NUMBER_MARK, readWorkbook } from './read-xlsx';

const folder = mkdtempSync(join(tmpdir(), 'terrace-workbook-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function written(
  rows: readonly (readonly excel.CellValue[])[],
  change: (sheet: excel.Worksheet, book: excel.Workbook) => void = () => undefined,
) {
  const book = new excel.Workbook();
  const sheet = book.addWorksheet('first');
  rows.forEach((row) => sheet.addRow([...row]));
  change(sheet, book);
  const path = join(folder, 'book.xlsx');
  writeFileSync(path, Buffer.from(await book.xlsx.writeBuffer()));
  return path;
}
const read = async (path: string, most = 100) => (await readWorkbook(path, most, 20)).map((row) => row.cells);

describe('a workbook', () => {
  it('is read cell by cell: texts, numbers, flags, days, formulas as what they are, and gaps', async () => {
    const rich = { richText: [{ text: 'oak ' }, { font: { bold: true }, text: 'frame' }] };
    const path = await written([
      ['text', 'number', 'flag', 'day', 'formula', 'rich'],
      ['1,250.5', 1250.5, true, new Date('2027-03-12'), { formula: 'B2*2', result: 2501 }, rich],
      [null, 0.1 + 0.2, false, new Date('2028-02-29'), { error: '#REF!' }, 'ä & <b>'],
    ]);
    expect(await read(path)).toEqual([
      ['text', 'number', 'flag', 'day', 'formula', 'rich'],
      ['1,250.5', `${NUMBER_MARK}1250.5`, 'yes', '2027-03-12', '=B2*2', 'oak frame'],
      ['', `${NUMBER_MARK}0.3`, 'no', '2028-02-29', '=#REF!', 'ä & <b>'],
    ]);
  });

  it('says what its texts and numbers say, whatever they are', async () => {
    const text = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 12 }).filter((each) => /^[^\p{C}]+$/u.test(each) && each.trim() === each);
    const cell = fc.oneof(text, fc.integer(), fc.constant(null));
    await fc.assert(
      fc.asyncProperty(fc.array(fc.array(cell, { minLength: 1, maxLength: 5 }), { minLength: 1, maxLength: 6 }), async (rows) => {
        const found = await read(await written(rows));
        const wanted = rows.map((row) => row.map((each) => (typeof each === 'number' ? `${NUMBER_MARK}${each}` : (each ?? ''))));
        wanted.forEach((row, index) => row.forEach((each, column) => expect(found[index]?.[column] ?? '').toBe(each)));
      }),
      { numRuns: 60 },
    );
  });

  it('gives its first sheet, with the numbers of its rows, and not more rows than are asked for', async () => {
    const path = await written([['a'], ['b'], ['c']], (sheet, book) => {
      sheet.getCell('A9').value = 'far';
      book.addWorksheet('second').addRow(['not this']);
    });
    expect((await readWorkbook(path, 100, 20)).map((row) => [row.number, ...row.cells]).filter((row) => row.length > 1)).toEqual([
      [1, 'a'],
      [2, 'b'],
      [3, 'c'],
      [9, 'far'],
    ]);
    expect(await readWorkbook(path, 1, 20)).toHaveLength(2);
  });

  it('counts its days from 1904 where it says so', async () => {
    const path = await written([[5]], (sheet, book) => {
      book.properties.date1904 = true;
      sheet.getCell('A1').numFmt = 'yyyy-mm-dd';
    });
    expect(await read(path)).toEqual([['1904-01-06']]);
  });

  it('is read alike a hundred times at once', async () => {
    const path = await written([
      ['Code', 'Price'],
      ['A', { formula: '1+1', result: 2 }],
    ]);
    const all = await Promise.all(Array.from({ length: 100 }, () => read(path)));
    expect(new Set(all.map((each) => JSON.stringify(each)))).toEqual(new Set(['[["Code","Price"],["A","=1+1"]]']));
  });

  it('is refused where a cell holds more than one can, or where it is broken', async () => {
    await expect(read(await written([['x'.repeat(40_000)]]))).rejects.toMatchObject({ code: 'tooLarge' });
    const path = join(folder, 'none.xlsx');
    writeFileSync(path, 'no workbook');
    await expect(read(path)).rejects.toMatchObject({ code: 'unreadable' });
  });
});
