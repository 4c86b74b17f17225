/** What happens in the stores besides the daily work: transfers, late costs, breakage, a lot that smells, a piece that comes back. */
import { addDays, parseQuantity } from '@terrace/core';
import { stores, type Work } from '@terrace/server';
import { binIdOf, idOf, type Perform } from './known';
import { firstShelf, latestTransfer, liesIn, reservedForLatest, soldExtractor, waxLot, waxReceipt } from './looks';

interface Chapter {
  /** Days before today, or the first day after on which it can happen. */
  readonly days: number;
  readonly who: string;
  /** Whether it can happen already; what is sold or received comes when it comes. */
  readonly can?: (work: Work) => boolean;
  readonly tell: (work: Work) => unknown;
}

const there = <T>(found: T | undefined, what: string): T => {
  if (found === undefined) throw new RangeError(`the demo company has no ${what}`);
  return found;
};

function request(work: Work, from: string, to: string, lines: readonly (readonly [item: string, quantity: string])[], days: number): void {
  stores.requestTransfer(work, {
    fromId: idOf(work, 'warehouse', from),
    toId: idOf(work, 'warehouse', to),
    shipDate: work.today,
    dueDate: addDays(work.today, days),
    carrier: 'own van',
    note: '',
    lines: lines.map(([item, quantity]) => ({ itemId: idOf(work, 'item', item), quantity })),
  });
}

const latest = (work: Work, state: 'requested' | 'shipped'): number => there(latestTransfer[state].one(work), `transfer that is ${state}`).id;

const isReserved = (work: Work): boolean => reservedForLatest.one(work) !== undefined;
const isUnderWay = (work: Work): boolean => latestTransfer.shipped.one(work) !== undefined;

function shipLatest(work: Work): void {
  const id = latest(work, 'requested');
  stores.shipTransfer(work, id, { version: stores.transferView(work, id).version });
  // What was not there is not waited for.
  const rest = latestTransfer.requested.one(work);
  if (rest === undefined || rest.id < id) return;
  const { version, note } = stores.transferView(work, rest.id);
  if (note.startsWith('rest of')) stores.cancelTransfer(work, rest.id, version);
}

/** Receives the latest transfer, some pieces short where `short` says so. */
function receiveLatest(work: Work, short: number): void {
  const id = latest(work, 'shipped');
  const { version, lines, toId } = stores.transferView(work, id);
  const bin = there(firstShelf.one(work, { warehouseId: toId }), 'shelf');
  stores.receiveTransfer(work, id, {
    version,
    binId: binIdOf(work, bin.warehouse, bin.code),
    lines: lines.map((line) => ({ lineId: line.id, quantity: String(Number(line.onTheWay) - short) })),
    ...(short === 0 ? { note: '' } : { reason: 'TRANSIT', note: 'one tray broken in the van' }),
  });
}

/** Whether so many lie in a bin of the works that nobody has reserved. */
function liesFree(work: Work, item: string, bin: string, quantity: number): boolean {
  const itemId = idOf(work, 'item', item);
  const warehouse = idOf(work, 'warehouse', 'WORKS');
  const wanted = parseQuantity(String(quantity), 0);
  const lies = liesIn.one(work, { itemId, binId: binIdOf(work, 'WORKS', bin), quantity: wanted });
  return lies !== undefined && stores.stockOf(work, itemId, warehouse).free >= wanted;
}

function adjust(work: Work, reason: string, note: string, item: string, bin: string, change: string, more: object = {}): void {
  const warehouseId = idOf(work, 'warehouse', 'WORKS');
  stores.adjustStock(work, {
    warehouseId,
    reason,
    note,
    lines: [{ itemId: idOf(work, 'item', item), binId: binIdOf(work, 'WORKS', bin), change, ...more }],
  });
}

/** More of it lies in a bin than is known of. */
export function findMore(work: Work, warehouse: string, bin: string, item: string, change: string): void {
  stores.adjustStock(work, {
    warehouseId: idOf(work, 'warehouse', warehouse),
    reason: 'FOUND',
    note: 'on the top shelf, unlabelled',
    lines: [{ itemId: idOf(work, 'item', item), binId: binIdOf(work, warehouse, bin), change }],
  });
}

const CHAPTERS: readonly Chapter[] = [
  {
    days: 6,
    who: 'quill',
    tell: (work) =>
      adjust(work, 'FOUND', 'behind the pallet of jars', 'STRIPS', 'B-02', '24', {
        pieces: [{ lot: 'ST-OLD', expiry: addDays(work.today, 6 + 125) }],
        unitCost: '18.20',
      }),
  },
  {
    days: 45,
    who: 'maren',
    can: (work) => waxReceipt.one(work) !== undefined,
    tell: (work) => {
      const receipt = there(waxReceipt.one(work), 'receipt of wax');
      stores.chargeLate(work, receipt.id, { what: 'landedCost', amount: '38.50', note: 'Freight from Southmere, by carrier’s invoice' });
    },
  },
  {
    days: 38,
    who: 'quill',
    tell: (work) =>
      request(
        work,
        'WORKS',
        'DEPOT',
        [
          ['SMOKER', '6'],
          ['HIVETOOL', '12'],
        ],
        3,
      ),
  },
  { days: 37, who: 'quill', can: isReserved, tell: shipLatest },
  { days: 35, who: 'quill', can: isUnderWay, tell: (work) => receiveLatest(work, 0) },
  {
    days: 31,
    who: 'quill',
    can: (work) => liesFree(work, 'JAR-500', 'B-02', 7),
    tell: (work) => adjust(work, 'BREAKAGE', 'case dropped from the truck', 'JAR-500', 'B-02', '-7'),
  },
  {
    days: 28,
    who: 'quill',
    can: (work) => liesFree(work, 'GLOVES', 'B-02', 1),
    tell: (work) => adjust(work, 'SAMPLE', 'for the spring fair', 'GLOVES', 'B-02', '-1'),
  },
  { days: 25, who: 'quill', tell: (work) => request(work, 'DEPOT', 'WORKS', [['JAR-500', '288']], 2) },
  { days: 24, who: 'quill', can: isReserved, tell: shipLatest },
  { days: 23, who: 'quill', can: isUnderWay, tell: (work) => receiveLatest(work, 3) },
  {
    days: 20,
    who: 'maren',
    tell: (work) =>
      stores.setStandardCost(work, idOf(work, 'item', 'SCREW'), { unitCost: '0.0185', seen: '0.018', note: 'New price list of Ironbeck' }),
  },
  {
    days: 14,
    who: 'quill',
    can: (work) => waxLot.one(work) !== undefined,
    tell: (work) => {
      const lot = there(waxLot.one(work), 'lot of wax');
      stores.blockLot(work, lot.id, { version: lot.version, reason: 'smells of smoke; sample is at the laboratory' });
    },
  },
  {
    days: 10,
    who: 'quill',
    can: (work) => soldExtractor.one(work) !== undefined,
    tell: (work) => {
      const sold = there(soldExtractor.one(work), 'extractor that was sold');
      adjust(work, 'BACK', 'bearing runs rough, customer got another', 'EXTRACT-9', 'B-01', '1', {
        state: 'held',
        pieces: [{ serials: sold.serial }],
      });
    },
  },
  {
    days: 9,
    who: 'maren',
    can: (work) => soldExtractor.one(work) !== undefined,
    tell: (work) => {
      const sold = there(soldExtractor.one(work), 'extractor that was sold');
      stores.changeSerial(work, sold.id, {
        version: sold.version,
        warrantyUntil: sold.warrantyUntil,
        contractUntil: addDays(work.today, 365),
        contract: 'Service once a season, parts included',
        note: '',
      });
    },
  },
  {
    days: 4,
    who: 'quill',
    tell: (work) =>
      request(
        work,
        'WORKS',
        'DEPOT',
        [
          ['FONDANT', '12'],
          ['HIVETOOL', '6'],
        ],
        5,
      ),
  },
  { days: 3, who: 'quill', can: isReserved, tell: shipLatest },
  {
    days: 1,
    who: 'tobin',
    tell: (work) =>
      request(
        work,
        'DEPOT',
        'WORKS',
        [
          ['JAR-500', '144'],
          ['SMOKER', '2'],
        ],
        4,
      ),
  },
];

/** Tells the chapters in their turn; one whose time has come waits until it can happen. */
export class StoresStory {
  private waiting: readonly Chapter[] = CHAPTERS;

  constructor(
    private readonly perform: Perform,
    private readonly today: string,
  ) {}

  tell(date: string): void {
    const due = this.waiting.filter((chapter) => addDays(this.today, -chapter.days) <= date);
    for (const chapter of due) {
      const told = this.perform(chapter.who, date, (work) => {
        if (chapter.can && !chapter.can(work)) return false;
        chapter.tell(work);
        return true;
      });
      if (told) this.waiting = this.waiting.filter((each) => each !== chapter);
    }
  }
}
