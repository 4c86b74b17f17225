/** The rooms put together: each is handed what it must know of rooms that stand on it, and says which documents it has. */
import { asQuantity } from '@terrace/core';
import { accountName, accountsDocuments, allAccounts, handToAccounts, openAccount, openItemsOf, owesOn, wasOnInvoice } from './accounts';
import { buyingDocuments, buyingEvents, finerPurchases, openPurchasesOf, openPurchasesWith, orderedIn, receiptNumber, receiptOf } from './buying';
import { catalogueDocuments, handToCatalogue } from './catalogue';
import { cashBack, cashInDrawers, cashInto, counterDocuments, openDrawers } from './counter';
import { dispatchDocuments, handToDispatch, onShipment, onTheWayOut, shipmentHolding, shipmentLines, shippedOf, wasOnShipment } from './dispatch';
import {
  endangeredOrders,
  finerRules,
  followRules,
  isPlanned,
  plainTexts,
  planAs,
  plannedOrder,
  planningEvents,
  ruleGiven,
  ruleOf,
  rulesOf,
} from './planning';
import { addSettling } from './platform/commands';
import { collectDocuments } from './platform/documents';
import { incomingDocuments } from './incoming';
import {
  finerProduction,
  handToProduction,
  madeIn,
  openProductionOf,
  productionDocuments,
  productionEvents,
  productionNumber,
  takenOut,
} from './production';
import { freeCredited, returnOfShipment, returnsDocuments } from './returns';
import {
  bookInvoiced,
  familyOf,
  finerOrders,
  handToSelling,
  hasPriceList,
  openOrdersBy,
  openOrdersOf,
  openOrdersWith,
  isLineOf,
  orderNumber,
  orderOf,
  orderOfLine,
  orderOfLineNumber,
  orderedOut,
  priceListsInUse,
  refreshOrder,
  sellingDocuments,
  sellingEvents,
  reserveByItself,
  settlePromises,
} from './selling';
import {
  addEventSource,
  finerStock,
  firstMoves,
  freeOf,
  handToStores,
  onHandOf,
  quantityThere,
  receivedValue,
  reclassify,
  stockValue,
  stockValueByAccount,
  storesDocuments,
  transferEvents,
  valuedAtStandard,
  workInProcess,
} from './stores';

/** Hands the rooms to each other; once per process, before anything is asked of one. */
export function registerRooms(): void {
  handToCatalogue.give({
    onHand: onHandOf,
    free: freeOf,
    firstMoves,
    quantityThere,
    valuedAtStandard,
    openDocuments: (work, item) => [...openOrdersOf(work, item), ...openPurchasesOf(work, item), ...openProductionOf(work, item)],
    finerThan: [...finerStock, ...finerOrders, ...finerPurchases, ...finerProduction, ...finerRules],
    openOrdersOfCustomer: openOrdersWith,
    openOrdersOfSupplier: openPurchasesWith,
    owes: owesOn,
    openWith: (work, customer) => [...openOrdersBy(work, customer), ...openItemsOf(work, customer).map((each) => each.number)],
    priceLists: priceListsInUse,
    hasPriceList,
    accounts: allAccounts,
    hasAccount: (work, code) => accountName(work, code) !== null,
    openAccount,
    reclassify,
    planning: {
      ofItem: (work, item) => ({ rules: rulesOf(work, item), ruleGiven: ruleGiven(work, item) }),
      planAs,
      follow: followRules,
      plainTexts,
    },
  });
  handToStores.give({
    expectedIn: [orderedIn, madeIn],
    expectedOut: [orderedOut, takenOut],
    isPlanned,
    safetyStock: (work, item, warehouse) => ruleOf(work, item, warehouse)?.safety ?? NOTHING,
    receiptOf,
    receiptNumber,
    productionNumber,
  });
  handToAccounts.give({
    stockValue,
    stockValueByAccount,
    receivedValue,
    workInProcess,
    orderNumber,
    orderNamed: orderOf,
    orderFamily: (work, id) => {
      const { familyId } = orderOf(work, id);
      return familyId === null ? [id] : familyOf(work, familyId).map((each) => each.id);
    },
    orderOfLine,
    orderOfLineNumber,
    isLineOf,
    invoiceTakenBack: (work, lines) => {
      for (const { orderLineId, quantity, free } of lines) bookInvoiced(work, orderLineId, asQuantity(-quantity), asQuantity(-free));
    },
    creditTakenBack: freeCredited,
    cashInto,
    cashBack,
    cashInDrawers,
    openDrawers,
    invoicesChanged: refreshOrder,
  });
  handToSelling.give({
    onTheWay: onTheWayOut,
    onShipment,
    shipmentHolding,
    shippedOf,
    linesOfShipment: shipmentLines,
    wasOnDocument: (work, line) => wasOnShipment(work, line) || wasOnInvoice(work, line),
    plannedOrder,
    endangeredOrders,
  });
  handToDispatch.give({ returnOf: returnOfShipment });
  handToProduction.give({ leadDays: (work, item, warehouse) => ruleOf(work, item, warehouse)?.leadDays ?? 0 });
  addSettling((work) => reserveByItself(work, settlePromises(work)));
  for (const source of [sellingEvents, buyingEvents, productionEvents, transferEvents, planningEvents]) addEventSource(source);
  for (const documents of [
    catalogueDocuments,
    sellingDocuments,
    buyingDocuments,
    productionDocuments,
    dispatchDocuments,
    returnsDocuments,
    counterDocuments,
    incomingDocuments,
    storesDocuments(),
    accountsDocuments,
  ])
    collectDocuments(documents);
}

const NOTHING = asQuantity(0);
