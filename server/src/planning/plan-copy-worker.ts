/** A copy of the plan written out in a thread of its own, so that neither the server nor the planner waits for it. */
import { move, transferableSymbol, valueSymbol } from 'piscina';
import { atOneMoment } from '../platform/database-file';
import { companyClock } from '../platform/clock';
import { NOBODY, Work } from '../platform/work';
import { gatherCopy } from './plan-copy';
import { closeKept, openKept } from './plan-file';
import { giveWay } from '../platform/threads';

giveWay();

const PART = 256 * 1024;

export interface CopyTask {
  readonly dataFolder: string;
  readonly today: string | null;
}

/** The copy as JSON, in parts that are small enough to be sent one by one. */
export default function run({ dataFolder, today }: CopyTask): unknown {
  const store = openKept(dataFolder);
  const clock = companyClock(store, today);
  try {
    const read = atOneMoment(store, () => JSON.stringify(gatherCopy(new Work(store, NOBODY, clock.today(), clock.now()))));
    const parts = partsOf(Buffer.from(read));
    // Handed over, not copied.
    return move({ [transferableSymbol]: parts.map((each) => each.buffer), [valueSymbol]: parts });
  } finally {
    closeKept(store);
  }
}

function partsOf(bytes: Buffer): Uint8Array[] {
  const parts: Uint8Array[] = [];
  for (let at = 0; at < bytes.length; at += PART) parts.push(new Uint8Array(bytes.subarray(at, at + PART)));
  return parts;
}
