import { api } from '@terrace/contract';
import type { Binder } from '../platform/http';
import type { Work } from '../platform/work';
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
import { changeRules, followRules, setItemPlanning, setRule } from './rules-followed';
import { listRules } from './rules-list';
import { setSubstitutes } from './substitutes';
import { dropTerm, setTerm } from './terms';

export { keepBom, setBom } from './bom';
export { customColumns, customFields, customFind, customOf, fieldsOn, keepCustom } from './custom';
export { createFamily, makeVariants, familyView } from './families';
export { findItems, readVocabulary } from './find';
export { columnOf, readPoints } from './given';
export {
  binOf,
  calendarDefinition,
  calendarOf,
  workingDayAfter,
  dockOf,
  saveCurrency,
  saveField,
  saveUnit,
  setUpGround,
  warehouseOf,
} from './ground';
export { groupsOf, saveGroup } from './groups';
export { accountsOfItem, fieldsOfItem, itemFacts, itemOf, usableItem } from './item-facts';
export { barcodesOf, packsOf } from './item-parts';
export { itemView } from './item-view';
export { changeItem, createItem } from './items';
export { asIs } from './many';
export { changeCustomer, changeSupplier, createCustomer, createSupplier, customerOf, customerView, supplierOf, supplierView } from './parties';
export { booksCurrency, rateOf } from './rates';
export { rulesOf } from './rules';
export { setItemPlanning, setRule } from './rules-followed';
export { setSubstitutes, substitutesOf } from './substitutes';
export { askedPrice, giveUpSupplier, keepTerm, setTerm, validTerms, type BuyingTerms } from './terms';

/** A look at the record that the address names. */
function lookedAt<T>(view: (work: Work, id: number) => T): (work: Work, input: { readonly params: { readonly id: number } }) => T {
  return (work, { params }) => view(work, params.id);
}

export function bindCatalogue(binder: Binder): void {
  const { catalogue } = api;
  const item = lookedAt(itemView);
  binder.list(catalogue.listItems, (work, { query }) => listItems(work, query));
  binder.read(catalogue.findItems, (work, { query }) => findItems(work, query.text));
  binder.read(catalogue.likeItems, (work, { query }) => likeItems(work, query));
  binder.read(catalogue.groupGives, (work, { query }) => Object.fromEntries(givenByGroup(work, query.group)));
  binder.read(catalogue.getItem, (work, { params }) => itemView(work, params.id));
  binder.command(catalogue.createItem, (work, { body }) => itemView(work, createItem(work, body)));
  binder.command(catalogue.changeItems, (work, { body }) => changeItems(work, body.changes));
  binder.change(catalogue.changeItem, (work, { params, body }) => changeItem(work, params.id, body), item);
  binder.change(catalogue.setTerm, (work, { params, body }) => setTerm(work, params.id, body), item);
  binder.change(catalogue.dropTerm, (work, { params }) => dropTerm(work, params.id, params.term), item);
  binder.change(catalogue.setBom, (work, { params, body }) => setBom(work, params.id, body), item);
  binder.change(catalogue.setRule, (work, { params, body }) => setRule(work, params.id, body), item);
  binder.list(catalogue.listRules, (work, { query }) => listRules(work, query));
  binder.command(catalogue.changeRules, (work, { body }) => changeRules(work, body.changes));
  binder.change(catalogue.setItemPlanning, (work, { params, body }) => setItemPlanning(work, params.id, body), item);
  binder.change(catalogue.setSubstitutes, (work, { params, body }) => setSubstitutes(work, params.id, body), item);
  bindFamilies(binder);
  bindParties(binder);
  bindGround(binder);
}

function bindFamilies(binder: Binder): void {
  const { catalogue } = api;
  const family = lookedAt(familyView);
  binder.list(catalogue.listFamilies, (work, { query }) => listFamilies(work, query));
  binder.read(catalogue.getFamily, (work, { params }) => familyView(work, params.id));
  binder.command(catalogue.createFamily, (work, { body }) => familyView(work, createFamily(work, body)));
  binder.change(catalogue.changeFamily, (work, { params, body }) => changeFamily(work, params.id, body), family);
  binder.change(catalogue.makeVariants, (work, { params, body }) => makeVariants(work, params.id, body), family);
}

function bindParties(binder: Binder): void {
  const { catalogue } = api;
  const [customer, supplier] = [lookedAt(customerView), lookedAt(supplierView)];
  binder.list(catalogue.listCustomers, (work, { query }) => listCustomers(work, query));
  binder.read(catalogue.getCustomer, (work, { params }) => customerView(work, params.id));
  binder.command(catalogue.createCustomer, (work, { body }) => customerView(work, createCustomer(work, body)));
  binder.change(catalogue.changeCustomer, (work, { params, body }) => changeCustomer(work, params.id, body), customer);
  binder.list(catalogue.listSuppliers, (work, { query }) => listSuppliers(work, query));
  binder.read(catalogue.getSupplier, (work, { params }) => supplierView(work, params.id));
  binder.command(catalogue.createSupplier, (work, { body }) => supplierView(work, createSupplier(work, body)));
  binder.change(catalogue.changeSupplier, (work, { params, body }) => changeSupplier(work, params.id, body), supplier);
}

function bindGround(binder: Binder): void {
  const { catalogue } = api;
  binder.read(catalogue.choices, (work) => choices(work));
  binder.read(catalogue.getGround, (work) => groundView(work));
  binder.command(catalogue.setUp, (work, { body }) => setUpGround(work, body));
  binder.change(catalogue.saveUnit, (work, { body }) => saveUnit(work, body), groundView);
  binder.command(catalogue.saveGroup, (work, { body }) => {
    const { below, followed, kept } = saveGroup(work, body);
    return { followed: followed + followRules(work, below), kept, ...groundView(work) };
  });
  binder.change(catalogue.saveCalendar, (work, { body }) => saveCalendar(work, body), groundView);
  binder.change(catalogue.saveCurrency, (work, { body }) => saveCurrency(work, body), groundView);
  binder.change(catalogue.saveCustomerGroup, (work, { body }) => saveCustomerGroup(work, body), groundView);
  binder.change(catalogue.saveTaxCode, (work, { body }) => saveTaxCode(work, body), groundView);
  binder.change(catalogue.saveField, (work, { body }) => saveField(work, body), groundView);
}
