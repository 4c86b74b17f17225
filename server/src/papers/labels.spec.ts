/** Labels are printed, and read back from their bars by a scanner's decoder. */
import { BarcodeFormat, BinaryBitmap, DecodeHintType, HybridBinarizer, MultiFormatReader, RGBLuminanceSource } from '@zxing/library';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { openCompany, type Client, type Company, somebody } from '../testing/company';
import { labelsOf } from './labels';
import { symbolOf, type Label } from './label-sheet';

const QUIET = 24;
const SCALE = 2;

/** Whether a point lies within the outlines of a path (even-odd), each of straight lines. */
function within(outlines: readonly (readonly (readonly [number, number])[])[], x: number, y: number): boolean {
  let inside = false;
  for (const outline of outlines) {
    outline.forEach(([x1, y1], index) => {
      const [x2, y2] = outline[(index + 1) % outline.length] ?? [x1, y1];
      if (y1 > y !== y2 > y && x < ((x2 - x1) * (y - y1)) / (y2 - y1) + x1) inside = !inside;
    });
  }
  return inside;
}

/** The drawing that is printed, as a scanner sees it: dark on white, with the quiet zone that a label leaves. */
function picture(label: Label): { pixels: Uint8ClampedArray; width: number; height: number } {
  const svg = symbolOf(label);
  const [, across = '0', down = '0'] = /viewBox="0 0 (\d+) (\d+)"/.exec(svg) ?? [];
  const width = (Number(across) + 2 * QUIET) * SCALE;
  const height = (Number(down) + 2 * QUIET) * SCALE;
  const bars: (readonly [number, number])[] = [];
  const outlines: [number, number][][] = [];
  for (const [, stroke, lines = ''] of svg.matchAll(/<path (?:stroke="#000000" stroke-width="(\d+)" )?d="([^"]*)"/g)) {
    const runs = lines
      .split('M')
      .filter((run) => run !== '')
      .map((run) =>
        run
          .replace('Z', '')
          .trim()
          .split('L')
          .map((point) => point.trim().split(' ').map(Number) as [number, number]),
      );
    if (stroke === undefined) outlines.push(...runs);
    else for (const [start] of runs) if (start) bars.push([start[0] - Number(stroke) / 2, start[0] + Number(stroke) / 2]);
  }
  const dark = (x: number, y: number): boolean =>
    y >= 0 && y < Number(down) && (bars.some(([from, to]) => x >= from && x < to) || within(outlines, x, y));
  const pixels = new Uint8ClampedArray(width * height).fill(255);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) if (dark((x + 0.5) / SCALE - QUIET, (y + 0.5) / SCALE - QUIET)) pixels[y * width + x] = 0;
  return { pixels, width, height };
}

function scanned(label: Label): string {
  const { pixels, width, height } = picture(label);
  const hints = new Map<DecodeHintType, unknown>([
    [DecodeHintType.POSSIBLE_FORMATS, [label.symbol === 'gs1datamatrix' ? BarcodeFormat.DATA_MATRIX : BarcodeFormat.CODE_128]],
    [DecodeHintType.ASSUME_GS1, label.symbol !== 'code128'],
  ]);
  const reader = new MultiFormatReader();
  reader.setHints(hints);
  return reader.decode(new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(pixels, width, height)))).getText();
}

let company: Company;
let manager: Client;
const { catalogue, stores } = api;

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterAll(() => company.close());

const work = () => company.terrace.commands.look(somebody('administrator'));

async function kept(code: string, tracking: string, barcode: string, pieces: object): Promise<number> {
  const body = { code, description: `${code} with a label`, group: 'ALL', unit: 'each', sellPrice: '1', tracking, barcodes: [{ barcode }] } as never;
  const { id } = await manager.call(catalogue.createItem, { body });
  const lines = [{ itemId: id, binId: 1, change: '1', unitCost: '2.00', pieces: [pieces] }];
  await manager.call(stores.adjust, { body: { warehouseId: 1, reason: 'OPENING', lines } });
  return id;
}

describe('labels', () => {
  it('of items, lots, serial numbers and bins are read back as what they stand for', async () => {
    const lotItem = await kept('LABLOT', 'lot', '2000000000121', { lot: 'W-7/27', expiry: '2027-12-31' });
    const serialItem = await kept('LABSER', 'serial', '2000000000138', { serials: 'MX27-0007T' });
    const read = async (kind: string, id: number) => {
      const [label] = labelsOf(work(), kind, id, 1);
      if (!label) throw new Error('no label');
      return manager.call(stores.scan, { query: { text: scanned(label) } });
    };
    expect(await read('item', company.id('item', 'FRAME'))).toMatchObject({ item: { code: 'FRAME' } });
    expect(await read('lotsOf', lotItem)).toMatchObject({ item: { code: 'LABLOT' }, lot: 'W-7/27', expiry: '2027-12-31' });
    expect(await read('serialsOf', serialItem)).toMatchObject({ item: { code: 'LABSER' }, serial: 'MX27-0007T' });
    expect(await read('bins', 1)).toMatchObject({ bin: 'WORKS A-01' });
    // Without a barcode the label carries the item's own code.
    expect(await read('item', company.id('item', 'WIRE'))).toMatchObject({ item: { code: 'WIRE' } });
  });

  it('come as a sheet, and are refused where there is nothing to print', async () => {
    const sheet = await manager.agent.get(`/api/papers/labels/item/${company.id('item', 'FRAME')}?copies=14`);
    expect([sheet.status, sheet.type]).toEqual([200, 'application/pdf']);
    const none = await manager.agent.get(`/api/papers/labels/lotsOf/${company.id('item', 'FRAME')}`);
    expect(none.status).toBe(422);
    expect((await manager.agent.get(`/api/papers/labels/item/${company.id('item', 'FRAME')}?copies=9999`)).status).toBe(422);
    expect((await manager.agent.get('/api/papers/labels/walls/1')).status).toBe(404);
  });
});
