import { api } from '@terrace/contract';
import type { Binder } from '../platform/http';
import { setBom } from './bom';
import { createFamily, changeFamily, familyView, listFamilies, makeVariants } from './families';
import { findItems } from './find';
import { choices, groundView, saveCalendar, saveCurrency, saveCustomerGroup, saveField, saveTaxCode, saveUnit, setUpGround } from './ground';
import { givenByGroup, saveGroup } from './groups';
import { itemView } from './item-view';
import { changeItem, createItem, listItems } from './items';
import { likeItems } from './like';
import { changeItems } from './many';
import { changeCustomer, changeSupplier, createCustomer, createSupplier, customerView, listCustomers, listSuppliers, supplierView } from './parties';
import { setRule } from './rules';
import { setSubstitutes } from './substitutes';
import { dropTerm, setTerm } from './terms';

export { keepBom, setBom } from './bom';
export { customColumns, customFields, customFind, customOf, fieldsOn, keepCustom } from './custom';
export { createFamily, makeVariants, familyView } from './families';
export { findItems, readVocabulary } from './find';
export { columnOf, readPoints } from './given';
export { binOf, calendarDefinition, calendarOf, dockOf, saveCurrency, saveField, saveUnit, setUpGround, warehouseOf } from './ground';
export { groupsOf, saveGroup } from './groups';
export { accountsOfItem, fieldsOfItem, itemFacts, itemOf, usableItem } from './item-facts';
export { barcodesOf, packsOf } from './item-parts';
export { itemView } from './item-view';
export { changeItem, createItem } from './items';
export { asIs } from './many';
export { changeCustomer, changeSupplier, createCustomer, createSupplier, customerOf, customerView, supplierOf, supplierView } from './parties';
export { booksCurrency, rateOf } from './rates';
export { setRule } from './rules';
export { setSubstitutes, substitutesOf } from './substitutes';
export { askedPrice, keepTerm, setTerm } from './terms';

export function bindCatalogue(binder: Binder): void {
  const { catalogue } = api;
  binder.list(catalogue.listItems, (work, { query }) => listItems(work, query));
  binder.read(catalogue.findItems, (work, { query }) => findItems(work, query.text));
  binder.read(catalogue.likeItems, (work, { query }) => likeItems(work, query));
  binder.read(catalogue.groupGives, (work, { query }) => Object.fromEntries(givenByGroup(work, query.group)));
  binder.read(catalogue.getItem, (work, { params }) => itemView(work, params.id));
  binder.command(catalogue.createItem, (work, { body }) => itemView(work, createItem(work, body)));
  binder.command(catalogue.changeItems, (work, { body }) => changeItems(work, body.changes));
  binder.command(catalogue.changeItem, (work, { params, body }) => {
    changeItem(work, params.id, body);
    return itemView(work, params.id);
  });
  binder.command(catalogue.setTerm, (work, { params, body }) => {
    setTerm(work, params.id, body);
    return itemView(work, params.id);
  });
  binder.command(catalogue.dropTerm, (work, { params }) => {
    dropTerm(work, params.id, params.term);
    return itemView(work, params.id);
  });
  binder.command(catalogue.setBom, (work, { params, body }) => {
    setBom(work, params.id, body);
    return itemView(work, params.id);
  });
  binder.command(catalogue.setRule, (work, { params, body }) => {
    setRule(work, params.id, body);
    return itemView(work, params.id);
  });
  binder.command(catalogue.setSubstitutes, (work, { params, body }) => {
    setSubstitutes(work, params.id, body);
    return itemView(work, params.id);
  });
  bindFamilies(binder);
  bindParties(binder);
  bindGround(binder);
}

function bindFamilies(binder: Binder): void {
  const { catalogue } = api;
  binder.list(catalogue.listFamilies, (work, { query }) => listFamilies(work, query));
  binder.read(catalogue.getFamily, (work, { params }) => familyView(work, params.id));
  binder.command(catalogue.createFamily, (work, { body }) => familyView(work, createFamily(work, body)));
  binder.command(catalogue.changeFamily, (work, { params, body }) => {
    changeFamily(work, params.id, body);
    return familyView(work, params.id);
  });
  binder.command(catalogue.makeVariants, (work, { params, body }) => {
    makeVariants(work, params.id, body);
    return familyView(work, params.id);
  });
}

function bindParties(binder: Binder): void {
  const { catalogue } = api;
  binder.list(catalogue.listCustomers, (work, { query }) => listCustomers(work, query));
  binder.read(catalogue.getCustomer, (work, { params }) => customerView(work, params.id));
  binder.command(catalogue.createCustomer, (work, { body }) => customerView(work, createCustomer(work, body)));
  binder.command(catalogue.changeCustomer, (work, { params, body }) => {
    changeCustomer(work, params.id, body);
    return customerView(work, params.id);
  });
  binder.list(catalogue.listSuppliers, (work, { query }) => listSuppliers(work, query));
  binder.read(catalogue.getSupplier, (work, { params }) => supplierView(work, params.id));
  binder.command(catalogue.createSupplier, (work, { body }) => supplierView(work, createSupplier(work, body)));
  binder.command(catalogue.changeSupplier, (work, { params, body }) => {
    changeSupplier(work, params.id, body);
    return supplierView(work, params.id);
  });
}

function bindGround(binder: Binder): void {
  const { catalogue } = api;
  binder.read(catalogue.choices, (work) => choices(work));
  binder.read(catalogue.getGround, (work) => groundView(work));
  binder.command(catalogue.setUp, (work, { body }) => setUpGround(work, body));
  binder.command(catalogue.saveUnit, (work, { body }) => {
    saveUnit(work, body);
    return groundView(work);
  });
  binder.command(catalogue.saveGroup, (work, { body }) => ({ ...saveGroup(work, body), ...groundView(work) }));
  binder.command(catalogue.saveCalendar, (work, { body }) => {
    saveCalendar(work, body);
    return groundView(work);
  });
  binder.command(catalogue.saveCurrency, (work, { body }) => {
    saveCurrency(work, body);
    return groundView(work);
  });
  binder.command(catalogue.saveCustomerGroup, (work, { body }) => {
    saveCustomerGroup(work, body);
    return groundView(work);
  });
  binder.command(catalogue.saveTaxCode, (work, { body }) => {
    saveTaxCode(work, body);
    return groundView(work);
  });
  binder.command(catalogue.saveField, (work, { body }) => {
    saveField(work, body);
    return groundView(work);
  });
}
