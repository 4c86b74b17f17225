import { api } from '@terrace/contract';
import type { Binder } from '../platform/http';
import { adjustStock, adjustmentView, listAdjustments, reverseAdjustment } from './adjust';
import { epcisOf } from './epcis';
import { buildableOf, variantsOf, whenOf } from './faces';
import { availabilityOf, balanceStrip, exploreStock, holdersOf, listMoves, placesOf } from './look';
import { blockLot, changeLot, freeLot, listLots, lotView } from './lots';
import { releaseReservation } from './release';
import { relocate, reverseRelocation } from './relocate';
import { setTrackingRule, trackingRuleOf } from './rules';
import { readScan, scanSamples } from './scan';
import { changeSerial, listSerials, serialView } from './serials';
import { nextSerials } from './tracked';
import { traceList, traceView } from './tracing';
import { cancelTransfer, listTransfers, receiveTransfer, requestTransfer, shipTransfer, transferView } from './transfers';
import { chargeLate, lateCostsOf, reverseLateCost, setStandardCost, worthOn } from './value';

export { adjustStock, adjustmentView } from './adjust';
export { addEventSource, stockEvents, type StockEvent } from './events';
export { promiseSteps } from './lives';
export { availabilityOf } from './look';
export { blockLot, freeLot, lotView, warnOfExpiry } from './lots';
export { postMoves, reverseMoves, type MoveRequest } from './post-moves';
export { relocate } from './relocate';
export { dropReservation, lowerReservation, reserveFree, reservedFor, stockOf } from './reserve';
export { setTrackingRule } from './rules';
export { readScan } from './scan';
export { changeSerial, serialView } from './serials';
export { binsHolding, proposedPieces, takeFromBins, takeNamed, type Take } from './take';
export { piecesComing, trackingOf, warrantyEnd } from './tracked';
export { receiveTransfer, requestTransfer, shipTransfer, transferEvents, transferView } from './transfers';
export { chargeLate, setStandardCost } from './value';
export { stockCost } from './worth';

export function bindStores(binder: Binder): void {
  const { stores } = api;
  binder.list(stores.explore, (work, { query }) => exploreStock(work, query));
  binder.read(stores.availability, (work, { query }) => availabilityOf(work, query.item, query.warehouse, query.quantity, query.exceptLine));
  binder.read(stores.strip, (work, { query }) => balanceStrip(work, query.item, query.warehouse));
  binder.read(stores.places, (work, { params }) => placesOf(work, params.id));
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
  binder.list(stores.worth, (work, { query }) => worthOn(work, query));
  binder.read(stores.lateCosts, (work, { params }) => lateCostsOf(work, params.id));
  binder.command(stores.addLateCost, (work, { params, body }) => chargeLate(work, params.id, body));
  binder.command(stores.reverseLateCost, (work, { params }) => reverseLateCost(work, params.id));
  binder.command(stores.setStandardCost, (work, { params, body }) => setStandardCost(work, params.id, body));
}

/** Lots, serial numbers and their traces. */
function bindPieces(binder: Binder): void {
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
