/** Workbooks put together part by part, as no honest program would: for tests of what is refused. */
import { deflateRawSync } from 'node:zlib';

export const SHEET = 'xl/worksheets/sheet1.xml';

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
    const header = Buffer.alloc(30);
    header.writeUInt32LE(0x04034b50, 0);
    header.writeUInt16LE(20, 4);
    header.writeUInt16LE(8, 8);
    header.writeUInt32LE(data.length, 18);
    header.writeUInt32LE(size, 22);
    header.writeUInt16LE(name.length, 26);
    const entry = Buffer.alloc(46);
    entry.writeUInt32LE(0x02014b50, 0);
    entry.writeUInt16LE(20, 6);
    entry.writeUInt16LE(8, 10);
    entry.writeUInt32LE(data.length, 20);
    entry.writeUInt32LE(size, 24);
    entry.writeUInt16LE(name.length, 28);
    entry.writeUInt32LE(offset, 42);
    bodies.push(header, name, data);
    entries.push(entry, name);
    offset += header.length + name.length + data.length;
  }
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(Object.keys(parts).length, 8);
  end.writeUInt16LE(Object.keys(parts).length, 10);
  end.writeUInt32LE(
    entries.reduce((sum, each) => sum + each.length, 0),
    12,
  );
  end.writeUInt32LE(offset, 16);
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
