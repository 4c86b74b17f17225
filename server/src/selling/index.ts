import { api } from '@terrace/contract';
import type { RouteBinder } from '../platform/http';
import { boughtBefore, shippedDirect } from './bought';
import { addChargeRule, changeChargeRule, chargeRules } from './charges';
import { confirmOrder, reserveOrder } from './confirm';
import { divideOrder, divisionView } from './divide';
import { joinOrders } from './join';
import { holdOrder, letGoOrder } from './hold';
import { invoiceOrder } from './invoice-order';
import { listOrders } from './order-list';
import { orderView } from './order-view';
import { cancelLine, cancelOrder, changeOrder, createOrder } from './orders';
import { mailConfirmation } from './papers';
import { changePrices, previewPrices } from './price-change';
import {
  addPriceEntry,
  changePriceEntry,
  changePriceList,
  createPriceList,
  dropPriceEntry,
  listPriceEntries,
  listPriceLists,
  priceListView,
} from './price-lists';
import { OPEN_QUOTE, changeQuote, createQuote, listQuotes, loseQuote, orderFromQuote } from './quotes';
import { creditRule, setCreditRule } from './credit';
import { freeForWaiting, reserveForWaiting, setReservesByItself } from './offers';
import { explained } from './explain-price';
import { priceAgain, pricesAgain } from './reprice';

export { listOrders } from './order-list';
export { sellingDocuments } from './documents';
export { confirmOrder, reserveOrder } from './confirm';
export { backlogOf } from './backlog';
export {
  FROM_STOCK,
  IN_WORK,
  IS_GOODS,
  IS_ORDER,
  finerOrders,
  openOrdersBy,
  openOrdersOf,
  openOrdersWith,
  isLineOf,
  orderNumber,
  orderOfLine,
  orderOfLineNumber,
  orderedInPast,
  orderedOut,
  sellingEvents,
  stillToShip,
} from './events';
export { otherRooms as handToSelling, type PlannedOrder } from './handed-in';
export { divideOrder, proposeDivision } from './divide';
export { agreedAlike, invoiceOrder, invoiceTogether } from './invoice-order';
export { bookInvoiced, bookShipped, cancelOrder, changeOrder, createOrder, refreshOrder } from './orders';
export { familyOf, linesOf, orderOf, orderView } from './order-view';
export { addPriceEntry, changePriceEntry, createPriceList, hasPriceList, priceListView, priceListsInUse, writeValue } from './price-lists';
export { breaksOf, priceToday } from './pricing';
export { freeForWaiting, reserveByItself, reserveWhatIsSoon } from './offers';
export { reviewWhatExpires, settlePromises } from './promises';
export { assertNotHeld, carryOrder, holdOrder, letGoOrder, moveOrder, redateOrder } from './hold';
export { addChargeRule } from './charges';
export { mailConfirmation } from './papers';
export { redateOrderLine } from './redate';
export { OPEN_QUOTE, createQuote, listQuotes, loseQuote, orderFromQuote };
export * from './price-schema';
export * from './schema';

export function bindSelling(binder: RouteBinder): void {
  const { selling } = api;
  binder.list(selling.listOrders, (work, { query }) => listOrders(work, query));
  binder.read(selling.getOrder, (work, { params }) => orderView(work, params.id));
  binder.command(selling.createOrder, (work, { body: { confirm, beyondCredit, ...input } }) => {
    const order = createOrder(work, input);
    if (!confirm) return order;
    work.assertMay('selling.confirm');
    return confirmOrder(work, order.id, order.version, false, beyondCredit);
  });
  binder.command(selling.changeOrder, (work, { params, body }) => changeOrder(work, params.id, body));
  binder.command(selling.confirmOrder, (work, { params, body }) => confirmOrder(work, params.id, body.version, body.allOrNothing, body.beyondCredit));
  binder.task(selling.previewDivision, (commands, actor, { params, body }) => {
    commands.look(actor).assertMay('selling.edit');
    return commands.tryOut(actor, (work) => divisionView(work, params.id, body));
  });
  binder.command(selling.divideOrder, (work, { params, body }) => divideOrder(work, params.id, body));
  binder.command(selling.joinOrders, (work, { params, body }) => joinOrders(work, params.id, body));
  binder.read(selling.boughtBefore, (work, { params }) => boughtBefore(work, params.id));
  binder.read(selling.shippedDirect, (work) => shippedDirect(work));
  binder.list(selling.listQuotes, (work, { query }) => listQuotes(work, query));
  binder.command(selling.createQuote, (work, { body }) => createQuote(work, body));
  binder.command(selling.changeQuote, (work, { params, body }) => changeQuote(work, params.id, body));
  binder.command(selling.orderFromQuote, (work, { params, body }) => orderFromQuote(work, params.id, body));
  binder.command(selling.loseQuote, (work, { params, body }) => loseQuote(work, params.id, body));
  binder.command(selling.cancelLine, (work, { params, body }) => cancelLine(work, params.id, params.line, body));
  binder.command(selling.mailConfirmation, (work, { params, body }) => mailConfirmation(work, params.id, body.version));
  binder.command(selling.holdOrder, (work, { params, body }) => holdOrder(work, params.id, body.version, body.reason));
  binder.command(selling.letGoOrder, (work, { params, body }) => letGoOrder(work, params.id, body.version));
  binder.command(selling.reserveOrder, (work, { params }) => reserveOrder(work, params.id));
  binder.command(selling.cancelOrder, (work, { params, body }) => cancelOrder(work, params.id, body.version, body.reason));
  binder.command(selling.invoiceOrder, (work, { params, body }) => invoiceOrder(work, params.id, body.shipmentId));
  binder.read(selling.freeForWaiting, (work) => freeForWaiting(work));
  binder.command(selling.reserveForWaiting, (work) => reserveForWaiting(work));
  binder.command(selling.setReservesByItself, (work, { body }) => {
    setReservesByItself(work, body.byItself);
    return body;
  });
  binder.read(selling.getCreditRule, (work) => ({ rule: creditRule(work) }));
  binder.command(selling.setCreditRule, (work, { body }) => {
    setCreditRule(work, body.rule);
    return body;
  });
  bindPrices(binder);
}

function bindPrices(binder: RouteBinder): void {
  const { selling } = api;
  binder.read(selling.chargeRules, (work) => chargeRules(work));
  binder.command(selling.addChargeRule, (work, { body }) => addChargeRule(work, body));
  binder.command(selling.changeChargeRule, (work, { params, body }) => changeChargeRule(work, params.id, body));
  binder.task(selling.previewCharges, (commands, actor, { body }) => {
    commands.look(actor).assertMay('selling.edit');
    return commands.tryOut(actor, (work) => {
      const { currency, net, total, lines } = createOrder(work, body);
      const charges = lines.filter(({ byRule }) => byRule);
      return {
        currency,
        net,
        total,
        charges: charges.map(({ code, description, amount, priceSteps }) => ({ code, description, amount, words: priceSteps[0] ?? '' })),
      };
    });
  });
  binder.list(selling.listPriceLists, (work, { query }) => listPriceLists(work, query));
  binder.read(selling.getPriceList, (work, { params }) => priceListView(work, params.id));
  binder.command(selling.createPriceList, (work, { body }) => priceListView(work, createPriceList(work, body)));
  binder.change(
    selling.changePriceList,
    (work, { params, body }) => changePriceList(work, params.id, body),
    (work, { params }) => priceListView(work, params.id),
  );
  binder.list(selling.listPriceEntries, (work, { params, query }) => listPriceEntries(work, params.id, query));
  binder.command(selling.addPriceEntry, (work, { params, body }) => ({ id: addPriceEntry(work, params.id, body) }));
  binder.change(
    selling.changePriceEntry,
    (work, { params, body }) => changePriceEntry(work, params.id, body),
    (_work, { params }) => ({ id: params.id }),
  );
  binder.change(
    selling.dropPriceEntry,
    (work, { params, body }) => dropPriceEntry(work, params.id, body.version),
    () => ({}),
  );
  binder.read(selling.pricesAgain, (work, { params }) => pricesAgain(work, params.id));
  binder.command(selling.priceAgain, (work, { params, body }) => priceAgain(work, params.id, body));
  binder.read(selling.explainPrice, (work, { query }) => explained(work, query));
  binder.read(selling.previewPrices, (work, { query }) => previewPrices(work, query));
  binder.command(selling.changePrices, (work, { body }) => changePrices(work, body));
}
