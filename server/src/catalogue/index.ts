import { api } from '@terrace/contract';
import type { RouteBinder } from '../platform/http';
import type { Work } from '../platform/work';
import { setBom } from './bom';
import { createFamily, changeFamily, familyView, listFamilies, makeVariants } from './families';
import { choices } from './choices';
import { saveField } from './custom-fields';
import { saveCurrency } from './exchange-rates';
import { customerItems, dropCustomerItem, keepCustomerItem } from './customer-items';
import { findItems } from './find-items';
import { givenByGroup, saveGroup } from './groups';
import { otherRooms } from './handed-in';
import { itemView } from './item-view';
import { changeItem, createItem, listItems } from './items';
import { changeItems } from './change-items';
import { changeCustomer, changeSupplier, createCustomer, createSupplier, customerView, listCustomers, listSuppliers, supplierView } from './parties';
import { groundView, saveCalendar, saveCustomerGroup, setUpGround } from './reference-data';
import { savePaymentTerm, saveTaxCode } from './tax';
import { likeItems } from './similar-items';
import { setSubstitutes } from './substitutes';
import { dropTerm, setTerm } from './terms';
import { saveUnit } from './units';

export { catalogueDocuments } from './documents';
export { bomOf, keepBom, setBom } from './bom';
export { customColumns, customFields, customOf, fieldsOn, keepCustom, saveField } from './custom-fields';
export { createFamily, familyView, familyWith, makeVariants } from './families';
export { itemCalledBy, keepCustomerItem } from './customer-items';
export { findItems, readVocabulary } from './find-items';
export { columnOf, readPoints, readWayOfPlanning } from './group-defaults';
export { otherRooms as handToCatalogue } from './handed-in';
export { setUpGround } from './reference-data';
export { HOUSE_TAX, dueFor, readTerm, taxRateFor } from './tax';
export { finerIn, saveUnit, unitOf } from './units';
export {
  assertMayHere,
  assertTakesStock,
  binById,
  binByLabel,
  binOf,
  calendarDefinition,
  calendarOf,
  dockOf,
  usableWarehouse,
  warehouseIdOf,
  warehouseOf,
  warehouses,
  workingDayAfter,
} from './warehouses';
export { groupsOf, givenByGroup, saveGroup } from './groups';
export { accountsOfItem, fieldsOfItem, inventoryAccountOf, itemByCode, itemFacts, itemOf, itemsOfGroup, usableItem } from './item-facts';
export { weightOf } from './weights';
export { barcodesOf, itemWithBarcode, packsOf, plainBarcode } from './item-parts';
export { itemView } from './item-view';
export { changeItem, changePlanning, createItem, setFollows, setSellPrice, setStandard } from './items';
export { asIs } from './change-items';
export {
  changeCustomer,
  changeSupplier,
  createCustomer,
  createSupplier,
  customerOf,
  customerByCode,
  customerView,
  firstContactOf,
  supplierOf,
  supplierView,
} from './parties';
export { booksCurrency, currencyNamed, rateOf, rateOn, saveCurrency, worthOn } from './exchange-rates';
export { setSubstitutes, substitutesOf } from './substitutes';
export {
  askedPrice,
  currenciesWithoutRate,
  firstSupplierOf,
  giveUpSupplier,
  keepTerm,
  setTerm,
  termFields,
  validTerms,
  type BuyingTerms,
} from './terms';

/** A look at the record that the address names. */
function lookedAt<T>(view: (work: Work, id: number) => T): (work: Work, input: { readonly params: { readonly id: number } }) => T {
  return (work, { params }) => view(work, params.id);
}

export function bindCatalogue(binder: RouteBinder): void {
  const { catalogue } = api;
  const item = lookedAt(itemView);
  binder.list(catalogue.listItems, (work, { query }) => listItems(work, query));
  binder.read(catalogue.findItems, (work, { query }) => findItems(work, query.text, query.customer));
  binder.read(catalogue.likeItems, (work, { query }) => likeItems(work, query));
  binder.read(catalogue.groupGives, (work, { query }) => Object.fromEntries(givenByGroup(work, query.group)));
  binder.read(catalogue.getItem, (work, { params }) => itemView(work, params.id));
  binder.command(catalogue.createItem, (work, { body }) => itemView(work, createItem(work, body)));
  binder.command(catalogue.changeItems, (work, { body }) => changeItems(work, body.changes));
  binder.change(catalogue.changeItem, (work, { params, body }) => changeItem(work, params.id, body), item);
  binder.change(catalogue.setTerm, (work, { params, body }) => setTerm(work, params.id, body), item);
  binder.change(catalogue.dropTerm, (work, { params }) => dropTerm(work, params.id, params.term), item);
  binder.change(catalogue.setBom, (work, { params, body }) => setBom(work, params.id, body), item);
  binder.change(catalogue.setSubstitutes, (work, { params, body }) => setSubstitutes(work, params.id, body), item);
  bindFamilies(binder);
  bindParties(binder);
  bindGround(binder);
}

function bindFamilies(binder: RouteBinder): void {
  const { catalogue } = api;
  const family = lookedAt(familyView);
  binder.list(catalogue.listFamilies, (work, { query }) => listFamilies(work, query));
  binder.read(catalogue.getFamily, (work, { params }) => familyView(work, params.id));
  binder.command(catalogue.createFamily, (work, { body }) => familyView(work, createFamily(work, body)));
  binder.change(catalogue.changeFamily, (work, { params, body }) => changeFamily(work, params.id, body), family);
  binder.change(catalogue.makeVariants, (work, { params, body }) => makeVariants(work, params.id, body), family);
}

function bindParties(binder: RouteBinder): void {
  const { catalogue } = api;
  const [customer, supplier] = [lookedAt(customerView), lookedAt(supplierView)];
  binder.list(catalogue.listCustomers, (work, { query }) => listCustomers(work, query));
  binder.read(catalogue.getCustomer, (work, { params }) => customerView(work, params.id));
  binder.command(catalogue.createCustomer, (work, { body }) => customerView(work, createCustomer(work, body)));
  binder.change(catalogue.changeCustomer, (work, { params, body }) => changeCustomer(work, params.id, body), customer);
  binder.read(catalogue.customerItems, (work, { params }) => customerItems(work, params.id));
  binder.change(
    catalogue.keepCustomerItem,
    (work, { params, body }) => keepCustomerItem(work, params.id, body),
    (work, { params }) => customerItems(work, params.id),
  );
  binder.change(
    catalogue.dropCustomerItem,
    (work, { params }) => dropCustomerItem(work, params.id, params.item),
    (work, { params }) => customerItems(work, params.id),
  );
  binder.list(catalogue.listSuppliers, (work, { query }) => listSuppliers(work, query));
  binder.read(catalogue.getSupplier, (work, { params }) => supplierView(work, params.id));
  binder.command(catalogue.createSupplier, (work, { body }) => supplierView(work, createSupplier(work, body)));
  binder.change(catalogue.changeSupplier, (work, { params, body }) => changeSupplier(work, params.id, body), supplier);
}

function bindGround(binder: RouteBinder): void {
  const { catalogue } = api;
  binder.read(catalogue.choices, (work) => choices(work));
  binder.read(catalogue.getGround, (work) => groundView(work));
  binder.command(catalogue.setUp, (work, { body }) => setUpGround(work, body));
  binder.change(catalogue.saveUnit, (work, { body }) => saveUnit(work, body), groundView);
  binder.command(catalogue.saveGroup, (work, { body }) => {
    const { below, followed, kept } = saveGroup(work, body);
    return { followed: followed + otherRooms.get().planning.follow(work, below), kept, ...groundView(work) };
  });
  binder.change(catalogue.saveCalendar, (work, { body }) => saveCalendar(work, body), groundView);
  binder.change(catalogue.saveCurrency, (work, { body }) => saveCurrency(work, body), groundView);
  binder.change(catalogue.saveCustomerGroup, (work, { body }) => saveCustomerGroup(work, body), groundView);
  binder.change(catalogue.saveTaxCode, (work, { body }) => saveTaxCode(work, body), groundView);
  binder.change(catalogue.savePaymentTerm, (work, { body }) => savePaymentTerm(work, body), groundView);
  binder.change(catalogue.saveField, (work, { body }) => saveField(work, body), groundView);
}

export * from './custom-schema';
export * from './party-schema';
export * from './schema';
