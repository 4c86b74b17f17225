import { api } from '@terrace/contract';
import type { RouteBinder } from '../platform/http';
import { adjustStock, adjustmentView, listAdjustments, reverseAdjustment } from './adjustments';
import { availabilityOf, balanceStrip } from './availability';
import { buildableOf } from './buildable';
import { epcisOf } from './epcis';
import { chargeLate, lateCostsOf, reverseLateCost } from './late-costs';
import { blockLot, changeLot, freeLot, listLots, lotView } from './lots';
import { listMoves } from './moves';
import { relocate, reverseRelocation } from './relocate';
import { holdersOf, releaseReservation } from './reservations';
import { readScan, scanSamples } from './scan';
import { changeSerial, listSerials, serialView } from './serial-numbers';
import { accountChange } from './reclassify';
import { setStandardCost } from './standard-cost';
import { exploreStock, placesOf } from './stock-list';
import { worthOn } from './stock-value';
import { whenOf } from './supply-by-period';
import { traceList, traceView } from './tracing';
import { nextSerials } from './tracking';
import { setTrackingRule, trackingRuleOf } from './tracking-rule';
import { receiveTransfer } from './receive-transfer';
import { listTransfers, transferView } from './transfer-view';
import { cancelTransfer, requestTransfer, shipTransfer, takeTransferBack } from './transfers';
import { variantsOf } from './variants';

export { storesDocuments } from './documents';
export { adjustStock, adjustmentView } from './adjustments';
export { availabilityOf } from './availability';
export { availableIn, balanceAt, finerStock, freeOf, onHandOf, quantityThere, reservedOf, sumOfBalances } from './balances';
export { addEventSource, stockEvents, type StockEvent } from './events';
export { binsHolding, lotOfBalance, proposedPieces, takeForAll, type Take } from './first-expiring';
export { otherRooms as handToStores } from './handed-in';
export { chargeLate } from './late-costs';
export { livingStock } from './lot-life';
export { countedOn, promiseSteps } from './promise-steps';
export { blockLot, freeLot, lotView, warnOfExpiry } from './lots';
export { firstMoves, isStanding, stands } from './moves';
export { postMoves, reverseMoves, type MoveRequest } from './post-moves';
export { relocate } from './relocate';
export {
  couldReserve,
  dropReservation,
  giveUpWhatEnds,
  itemsThatExpire,
  lowerReservation,
  notePromised,
  reservationsIn,
  reserveFree,
  reservedFor,
  stockOf,
  type Grant,
} from './reservations';
export { reclassify } from './reclassify';
export { readScan } from './scan';
export { beginWarranty, changeSerial, serialView } from './serial-numbers';
export { setStandardCost } from './standard-cost';
export { isReceived, receivedValue, receivedWorth, stockValue, stockValueByAccount, valuedAtStandard, workInProcess } from './stock-value';
export { lotNamed, piecesComing, trackingOf, warrantyEnd } from './tracking';
export { setTrackingRule } from './tracking-rule';
export { UNDER_WAY, lotUsableUntil, onTheWay, stillToBring } from './transfer-quantities';
export { receiveTransfer } from './receive-transfer';
export { lotsOnTheWay, transferEvents } from './transfer-events';
export { listTransfers, transferView } from './transfer-view';
export { cancelTransfer, requestTransfer, shipTransfer } from './transfers';
export { stockCost } from './unit-cost';
export * from './document-schema';
export * from './schema';
export * from './tracking-schema';

export function bindStores(binder: RouteBinder): void {
  const { stores } = api;
  binder.list(stores.explore, (work, { query }) => exploreStock(work, query));
  binder.read(stores.availability, (work, { query }) => availabilityOf(work, query.item, query.warehouse, query.quantity, query.exceptLine));
  binder.read(stores.strip, (work, { query }) => balanceStrip(work, query.item, query.warehouse));
  binder.read(stores.places, (work, { params }) => placesOf(work, params.id));
  binder.read(stores.accountChange, (work, { query }) => accountChange(work, query));
  binder.read(stores.holders, (work, { params }) => holdersOf(work, params.id));
  binder.list(stores.moves, (work, { query }) => listMoves(work, query));
  binder.read(stores.when, (work, { params, query }) => whenOf(work, params.id, query));
  binder.read(stores.howMany, (work, { params, query }) => buildableOf(work, params.id, query.warehouse));
  binder.read(stores.variants, (work, { params, query }) => variantsOf(work, params.id, query.warehouse));
  binder.read(stores.scanSamples, (work) => scanSamples(work));
  binder.read(stores.scan, (work, { query }) => readScan(work, query.text));
  binder.list(stores.listAdjustments, (work, { query }) => listAdjustments(work, query));
  binder.read(stores.getAdjustment, (work, { params }) => adjustmentView(work, params.id));
  binder.command(stores.adjust, (work, { body }) => adjustStock(work, body));
  binder.command(stores.reverseAdjustment, (work, { params }) => reverseAdjustment(work, params.id));
  binder.command(stores.relocate, (work, { body }) => relocate(work, body));
  binder.command(stores.reverseRelocation, (work, { params }) => reverseRelocation(work, params.id));
  binder.command(stores.release, (work, { params }) => releaseReservation(work, params.id));
  bindPieces(binder);
  binder.list(stores.listTransfers, (work, { query }) => listTransfers(work, query));
  binder.read(stores.getTransfer, (work, { params }) => transferView(work, params.id));
  binder.command(stores.requestTransfer, (work, { body }) => requestTransfer(work, body));
  binder.command(stores.shipTransfer, (work, { params, body }) => shipTransfer(work, params.id, body));
  binder.command(stores.receiveTransfer, (work, { params, body }) => receiveTransfer(work, params.id, body));
  binder.command(stores.cancelTransfer, (work, { params, body }) => cancelTransfer(work, params.id, body.version));
  binder.command(stores.takeTransferBack, (work, { params, body }) => takeTransferBack(work, params.id, body.version));
  binder.list(stores.worth, (work, { query }) => worthOn(work, query));
  binder.read(stores.lateCosts, (work, { params }) => lateCostsOf(work, params.id));
  binder.command(stores.addLateCost, (work, { params, body }) => chargeLate(work, params.id, body));
  binder.command(stores.reverseLateCost, (work, { params }) => reverseLateCost(work, params.id));
  binder.command(stores.setStandardCost, (work, { params, body }) => setStandardCost(work, params.id, body));
}

/** Lots, serial numbers and their traces. */
function bindPieces(binder: RouteBinder): void {
  const { stores } = api;
  binder.list(stores.listLots, (work, { query }) => listLots(work, query));
  binder.read(stores.getLot, (work, { params }) => lotView(work, params.id));
  binder.command(stores.changeLot, (work, { params, body }) => changeLot(work, params.id, body));
  binder.command(stores.blockLot, (work, { params, body }) => blockLot(work, params.id, body));
  binder.command(stores.freeLot, (work, { params, body }) => freeLot(work, params.id, body));
  binder.read(stores.trackingRule, (work, { params }) => trackingRuleOf(work, params.id));
  binder.command(stores.setTrackingRule, (work, { params, body }) => setTrackingRule(work, params.id, body));
  binder.list(stores.listSerials, (work, { query }) => listSerials(work, query));
  binder.read(stores.getSerial, (work, { params }) => serialView(work, params.id));
  binder.command(stores.changeSerial, (work, { params, body }) => changeSerial(work, params.id, body));
  binder.read(stores.nextSerials, (work, { params, query }) => ({ serials: nextSerials(work, params.id, query.count, work.today) }));
  binder.read(stores.trace, (work, { params }) => traceView(work, params.kind, params.id));
  binder.list(stores.traceList, (work, { params, query }) => traceList(work, params.kind, params.id, query));
  binder.read(stores.traceEvents, (work, { params }) => epcisOf(work, params.kind, params.id));
}
