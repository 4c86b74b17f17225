import { api } from '@terrace/contract';
import type { RouteBinder } from '../platform/http';
import { closeDrawer, drawerNow, listDrawers, openDrawer } from './drawers';
import { listParked, park, takeUp } from './parked';
import { findReceipt, listSales, priceBasket, returnSale, saleView, sell } from './sales';

export { counterDocuments } from './documents';
export { cashBack, cashInDrawers, cashInto, closeDrawer, drawerNow, openDrawer, openDrawers } from './drawers';
export { park } from './parked';
export { findReceipt, receiptFor, returnSale, saleView, sell } from './sales';
export * from './schema';

export function bindCounter(binder: RouteBinder): void {
  const { counter } = api;
  binder.task(counter.previewSale, (commands, actor, { body }) => {
    commands.look(actor).assertMay('selling.counter');
    return commands.tryOut(actor, (work) => priceBasket(work, body));
  });
  binder.command(counter.sell, (work, { body }) => sell(work, body));
  binder.list(counter.listSales, (work, { query }) => listSales(work, query));
  binder.read(counter.getSale, (work, { params }) => saleView(work, params.id));
  binder.read(counter.findReceipt, (work, { query }) => findReceipt(work, query.number));
  binder.command(counter.returnSale, (work, { params, body }) => returnSale(work, params.id, body));
  binder.read(counter.listParked, (work, { query }) => listParked(work, query.warehouse));
  binder.command(counter.park, (work, { body }) => park(work, body));
  binder.command(counter.takeUp, (work, { params }) => takeUp(work, params.id));
  binder.read(counter.drawer, (work, { query }) => drawerNow(work, query.warehouse));
  binder.list(counter.listDrawers, (work, { query }) => listDrawers(work, query));
  binder.command(counter.openDrawer, (work, { body }) => openDrawer(work, body));
  binder.command(counter.closeDrawer, (work, { params, body }) => closeDrawer(work, params.id, body));
}
