import { api } from '@terrace/contract';
import type { RouteBinder } from '../platform/http';
import { returnable } from './returnable';
import { listReturns, returnView } from './return-view';
import { authorise, creditReturn, decideReturn, receiveReturn, replaceReturn, takeReturnBack } from './returns';

export { returnsDocuments } from './documents';
export { returnable, returnOfShipment } from './returnable';
export { listReturns, returnView } from './return-view';
export { authorise, creditReturn, decideReturn, freeCredited, receiveReturn, replaceReturn, takeReturnBack } from './returns';
export * from './schema';

export function bindReturns(binder: RouteBinder): void {
  const { returns } = api;
  binder.list(returns.listReturns, (work, { query }) => listReturns(work, query));
  binder.read(returns.getReturn, (work, { params }) => returnView(work, params.id));
  binder.read(returns.returnable, (work, { params }) => returnable(work, params.id));
  binder.command(returns.authorise, (work, { body }) => authorise(work, body));
  binder.command(returns.receiveReturn, (work, { params, body }) => receiveReturn(work, params.id, body));
  binder.command(returns.decideReturn, (work, { params, body }) => decideReturn(work, params.id, body));
  binder.command(returns.creditReturn, (work, { params, body }) => creditReturn(work, params.id, body.version));
  binder.command(returns.replaceReturn, (work, { params, body }) => replaceReturn(work, params.id, body.version));
  binder.command(returns.takeReturnBack, (work, { params, body }) => takeReturnBack(work, params.id, body.version));
}
