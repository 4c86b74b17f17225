import { api } from '@terrace/contract';
import type { Binder } from '../platform/http';
import { setBom } from './bom';
import { choices, setUpGround } from './ground';
import { changeItem, createItem, findItems, itemView, listItems, setRule, setTerm } from './items';
import { createCustomer, createSupplier, listCustomers, listSuppliers } from './parties';

export { binOf, calendarDefinition, calendarOf, dockOf, setUpGround, warehouseOf } from './ground';
export { setBom } from './bom';
export { accountsOfItem, createItem, changeItem, itemFacts, itemView, setRule, setTerm, usableItem } from './items';
export { createCustomer, createSupplier, customerOf, supplierOf } from './parties';

export function bindCatalogue(binder: Binder): void {
  const { catalogue } = api;
  binder.list(catalogue.listItems, (work, { query }) => listItems(work, query));
  binder.read(catalogue.findItems, (work, { query }) => findItems(work, query.text));
  binder.read(catalogue.getItem, (work, { params }) => itemView(work, params.id));
  binder.command(catalogue.createItem, (work, { body }) => createItem(work, body));
  binder.command(catalogue.changeItem, (work, { params, body }) => changeItem(work, params.id, body));
  binder.command(catalogue.setTerm, (work, { params, body }) => setTerm(work, params.id, body));
  binder.command(catalogue.setBom, (work, { params, body }) => setBom(work, params.id, body));
  binder.command(catalogue.setRule, (work, { params, body }) => setRule(work, params.id, body));
  binder.list(catalogue.listCustomers, (work, { query }) => listCustomers(work, query));
  binder.command(catalogue.createCustomer, (work, { body }) => createCustomer(work, body));
  binder.list(catalogue.listSuppliers, (work, { query }) => listSuppliers(work, query));
  binder.command(catalogue.createSupplier, (work, { body }) => createSupplier(work, body));
  binder.read(catalogue.choices, (work) => choices(work));
  binder.command(catalogue.setUp, (work, { body }) => setUpGround(work, body));
}
