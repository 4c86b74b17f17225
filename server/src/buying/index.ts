import { api } from '@terrace/contract';
import type { RouteBinder } from '../platform/http';
import { approvePurchase, cancelPurchase, changePurchase, createPurchase, listPurchases, purchaseView, sendPurchase } from './orders';
import { receiveGoods, reverseReceipt } from './receipts';

export { buyingDocuments } from './documents';
export { approvePurchase, cancelPurchase, createPurchase, listPurchases, purchaseView, sendPurchase } from './orders';
export { IS_EXPECTED, buyingEvents, finerPurchases, openPurchasesOf, openPurchasesWith, orderedIn, stillToCome } from './events';
export { receiptNumber, receiptOf, receiveGoods, reverseReceipt } from './receipts';
export { cancelPurchaseLine, redatePurchaseLine } from './redate';
export * from './schema';

export function bindBuying(binder: RouteBinder): void {
  const { buying } = api;
  binder.list(buying.listPurchases, (work, { query }) => listPurchases(work, query));
  binder.read(buying.getPurchase, (work, { params }) => purchaseView(work, params.id));
  binder.command(buying.createPurchase, (work, { body }) => createPurchase(work, body));
  binder.command(buying.changePurchase, (work, { params, body }) => changePurchase(work, params.id, body));
  binder.command(buying.approvePurchase, (work, { params, body }) => approvePurchase(work, params.id, body.version));
  binder.command(buying.sendPurchase, (work, { params, body }) => sendPurchase(work, params.id, body.version));
  binder.command(buying.cancelPurchase, (work, { params, body }) => cancelPurchase(work, params.id, body.version, body.reason));
  binder.command(buying.receive, (work, { params, body }) => receiveGoods(work, params.id, body));
  binder.command(buying.reverseReceipt, (work, { params }) => reverseReceipt(work, params.id));
}
