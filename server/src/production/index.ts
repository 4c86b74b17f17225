import { api } from '@terrace/contract';
import type { RouteBinder } from '../platform/http';
import { finishProduction, reverseCompletion } from './finish';
import { cancelProduction, changeProduction, createProduction, productionView, releaseProduction } from './orders';
import { listProduction } from './production-list';

export { productionDocuments } from './documents';
export { cancelProduction, createProduction, createRework, productionView, releaseProduction } from './orders';
export { listProduction } from './production-list';
export { IS_OPEN, stillToMake } from './progress';
export { finishProduction, reverseCompletion } from './finish';
export { finerProduction, madeIn, openProductionOf, productionEvents, productionNumber, takenOut } from './events';
export { otherRooms as handToProduction } from './handed-in';
export { cancelProductionByNumber, redateProduction } from './redate';
export * from './schema';

export function bindProduction(binder: RouteBinder): void {
  const { production } = api;
  binder.list(production.listProduction, (work, { query }) => listProduction(work, query));
  binder.read(production.getProduction, (work, { params }) => productionView(work, params.id));
  binder.command(production.createProduction, (work, { body }) => createProduction(work, body));
  binder.command(production.changeProduction, (work, { params, body }) => changeProduction(work, params.id, body));
  binder.command(production.releaseProduction, (work, { params, body }) => releaseProduction(work, params.id, body.version));
  binder.command(production.finishProduction, (work, { params, body }) => finishProduction(work, params.id, body));
  binder.command(production.cancelProduction, (work, { params, body }) => cancelProduction(work, params.id, body.version, body.reason));
  binder.command(production.reverseCompletion, (work, { params }) => reverseCompletion(work, params.id));
}
