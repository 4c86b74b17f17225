import { api } from '@terrace/contract';
import type { Binder } from '../platform/http';
import { adjustStock } from './adjust';
import { availabilityOf, balanceStrip, exploreStock, holdersOf, listMoves, placesOf } from './look';
import { releaseReservation } from './release';

export { adjustStock } from './adjust';
export { addEventSource, stockEvents, type StockEvent } from './events';
export { availabilityOf } from './look';
export { postMoves, reverseMoves, takeFromBins, binsHolding, type MoveRequest } from './post-moves';
export { stockCost } from './worth';
export { dropReservation, lowerReservation, reserveFree, reservedFor, stockOf } from './reserve';

export function bindStores(binder: Binder): void {
  const { stores } = api;
  binder.list(stores.explore, (work, { query }) => exploreStock(work, query));
  binder.read(stores.availability, (work, { query }) => availabilityOf(work, query.item, query.warehouse, query.quantity, query.exceptLine));
  binder.read(stores.strip, (work, { query }) => balanceStrip(work, query.item, query.warehouse));
  binder.read(stores.places, (work, { params }) => placesOf(work, params.id));
  binder.read(stores.holders, (work, { params }) => holdersOf(work, params.id));
  binder.list(stores.moves, (work, { query }) => listMoves(work, query));
  binder.command(stores.adjust, (work, { body }) => adjustStock(work, body));
  binder.command(stores.release, (work, { params }) => releaseReservation(work, params.id));
}
