/** Workbooks put together part by part, as no honest program would: for tests of what is refused. */
import { deflateRawSync } from 'node:zlib';

export const SHEET = 'xl/worksheets/sheet1.xml';

/** A figure of a record: where it stands, and in how many bytes, two where it is not said. */
type Field = readonly [at: number, value: number, bytes?: 2 | 4];

/** A record of a packed file: so long, begun by its mark. */
function recordOf(length: number, mark: number, fields: readonly Field[]): Buffer {
  const record = Buffer.alloc(length);
  record.writeUInt32LE(mark, 0);
  for (const [at, value, bytes = 2] of fields) record.writeUIntLE(value, at, bytes);
  return record;
}

/** Packs parts into one file; `declared` is what it says of the size of each, where that is not the truth. */
export function packed(parts: Readonly<Record<string, string | Buffer>>, declared?: number): Buffer {
  const bodies: Buffer[] = [];
  const entries: Buffer[] = [];
  let offset = 0;
  for (const [part, text] of Object.entries(parts)) {
    const content = Buffer.from(text);
    const name = Buffer.from(part);
    const data = deflateRawSync(content);
    const size = declared ?? content.length;
    const header = recordOf(30, 0x04034b50, [
      [4, 20],
      [8, 8],
      [18, data.length, 4],
      [22, size, 4],
      [26, name.length],
    ]);
    const entry = recordOf(46, 0x02014b50, [
      [6, 20],
      [10, 8],
      [20, data.length, 4],
      [24, size, 4],
      [28, name.length],
      [42, offset, 4],
    ]);
    bodies.push(header, name, data);
    entries.push(entry, name);
    offset += header.length + name.length + data.length;
  }
  const count = Object.keys(parts).length;
  const length = entries.reduce((sum, each) => sum + each.length, 0);
  const end = recordOf(22, 0x06054b50, [
    [8, count],
    [10, count],
    [12, length, 4],
    [16, offset, 4],
  ]);
  return Buffer.concat([...bodies, ...entries, end]);
}

/** A workbook of one sheet with these rows. */
export function workbookOf(rows: string): Buffer {
  return packed({
    'xl/workbook.xml': '<workbook xmlns:r="r"><sheets><sheet name="one" r:id="rId1"/></sheets></workbook>',
    'xl/_rels/workbook.xml.rels': '<Relationships><Relationship Id="rId1" Target="worksheets/sheet1.xml"/></Relationships>',
    [SHEET]: `<worksheet><sheetData>${rows}</sheetData></worksheet>`,
  });
}
