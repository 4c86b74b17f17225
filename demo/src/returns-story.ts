/** What customers sent back: one piece to be decided on, one agreed on and still to come, one done with. */
import type { ReturnView } from '@terrace/contract';
import { returns, type Work } from '@terrace/server';
import type { Perform } from './known';
import { ordersInvoiced } from './looks';

export function tellReturns(perform: Perform, today: string): void {
  const orders = perform('tobin', today, (work) => ordersInvoiced.all(work)).map(({ id }) => id);
  // One is held until somebody decides, one is still on its way, one is done with and given back in money.
  const [held, coming, done] = [orders.at(-1), orders.at(-3), orders.at(-6)];
  if (held !== undefined) takeIn(perform, today, held, 'arrived with a crack');
  if (coming !== undefined) perform('tobin', today, (work) => agree(work, coming, 'ordered too many'));
  if (done !== undefined) {
    const back = takeIn(perform, today, done, 'does not fit');
    perform('quill', today, (work) => decide(work, back.id, 'scrap'));
    perform('maren', today, (work) => returns.creditReturn(work, back.id, returns.returnView(work, back.id).version));
  }
}

/** One piece of the first that left with an order. */
function agree(work: Work, orderId: number, reason: string): ReturnView {
  const [piece] = returns.returnable(work, orderId);
  if (!piece) throw new RangeError('nothing left with this order');
  const { shipmentLineId, lot, serial } = piece;
  return returns.authorise(work, { orderId, reason, lines: [{ shipmentLineId, lot, serial, quantity: '1' }] });
}

function takeIn(perform: Perform, today: string, orderId: number, reason: string): ReturnView {
  const { id } = perform('tobin', today, (work) => agree(work, orderId, reason));
  return perform('quill', today, (work) => {
    const { version, lines } = returns.returnView(work, id);
    return returns.receiveReturn(work, id, { version, lines: lines.map((line) => ({ lineId: line.id, quantity: '1' })) });
  });
}

function decide(work: Work, id: number, decision: 'scrap' | 'restock'): void {
  const { version, lines } = returns.returnView(work, id);
  returns.decideReturn(work, id, {
    version,
    decision,
    reason: decision === 'scrap' ? 'BREAKAGE' : '',
    note: '',
    lines: lines.map((line) => ({ lineId: line.id, quantity: '1' })),
  });
}
