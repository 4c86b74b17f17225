/** Items: setting up, changing, looking up. */
import { eq } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type ItemChoice, type ItemView, type ListQuery } from '@terrace/contract';
import { Refusal, parsePositiveQuantity, parsePrice, parseQuantity, writePrice, writeQuantity, type CostingMethod } from '@terrace/core';
import { asFlag, asNumber, asPriceText, asQuantityText, asText, listPage, type ListDefinition } from '../platform/list';
import { assertVersion, atField, changesBetween, orNotFound, type Work } from '../platform/work';
import * as tables from './schema';

const items: ListDefinition = {
  columns: {
    id: asNumber('i.id'),
    code: asText('i.code'),
    description: asText('i.description'),
    kind: asText('i.kind'),
    group: asText('i.group_code'),
    unit: asText('i.unit_code'),
    onHand: asQuantityText('coalesce((select sum(b.quantity) from balance b where b.item_id = i.id), 0)'),
    free: asQuantityText(
      "max(0, coalesce((select sum(b.quantity) from balance b where b.item_id = i.id and b.state = 'available'), 0) - coalesce((select sum(r.quantity) from reserved_stock r where r.item_id = i.id), 0))",
    ),
    sellPrice: asPriceText('i.sell_price'),
    active: asFlag('i.active'),
  },
  from: 'item i',
  find: ['i.code', 'i.description', 'i.second_code'],
  order: 'i.code',
  tie: 'i.id',
};

export function listItems(work: Work, query: ListQuery): AnswerOf<typeof api.catalogue.listItems> {
  return listPage(work, items, query);
}

export interface ItemFacts {
  readonly id: number;
  readonly code: string;
  readonly description: string;
  readonly kind: string;
  readonly unit: string;
  readonly decimals: number;
  readonly active: boolean;
  readonly sellPrice: number;
}

const FACTS = `select i.id, i.code, i.description, i.kind, i.unit_code as unit, u.decimals, i.active, i.sell_price as sellPrice
  from item i join unit u on u.code = i.unit_code where i.id = ?`;

/** What orders need to know of an item. Refuses `unknownItem`. */
export function itemFacts(work: Work, id: number): ItemFacts {
  const row = work.row<ItemFacts & { active: number | boolean }>(FACTS, id);
  if (!row) throw new Refusal('unknownItem', 'There is no such item: choose one from the list.', { item: id });
  return { ...row, active: Boolean(row.active) };
}

/** An item that a new document may name. Refuses `unknownItem` and `inactiveItem`. */
export function usableItem(work: Work, id: number): ItemFacts {
  const facts = itemFacts(work, id);
  if (!facts.active)
    throw new Refusal('inactiveItem', `${facts.code} is inactive: no new document may name it. Make it active, or choose another item.`, {
      item: facts.code,
    });
  return facts;
}

/** How an item is costed and which accounts it takes from its group. */
export function accountsOfItem(
  work: Work,
  id: number,
): { code: string; kind: string; costing: CostingMethod; inventoryAccount: string; costOfSalesAccount: string; revenueAccount: string } {
  return orNotFound(
    work.row(
      `select i.code, i.kind, i.costing, g.inventory_account as inventoryAccount, g.cost_of_sales_account as costOfSalesAccount, g.revenue_account as revenueAccount
       from item i join item_group g on g.code = i.group_code where i.id = ?`,
      id,
    ),
    'item',
  );
}

/** Items for an entry field: code or barcode first, then code beginning so, then all words in any order. */
export function findItems(work: Work, text: string): ItemChoice[] {
  const wanted = text.trim();
  if (wanted === '') return [];
  const words = wanted.split(/\s+/).map((word) => `%${word.replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`);
  const matches = words
    .map(() => "(i.code like ? escape '\\' or i.description like ? escape '\\' or coalesce(i.second_code, '') like ? escape '\\')")
    .join(' and ');
  const rows = work.rows<{ id: number; code: string; description: string; unit: string; decimals: number; sellPrice: number; kind: string }>(
    `select i.id, i.code, i.description, i.unit_code as unit, u.decimals, i.sell_price as sellPrice, i.kind,
       case when i.code = ? collate nocase or i.second_code = ? collate nocase or exists (select 1 from item_barcode b where b.item_id = i.id and b.barcode = ?) then 0
            when i.code like ? escape '\\' then 1 else 2 end as rank
     from item i join unit u on u.code = i.unit_code
     where i.active = 1 and i.kind <> 'phantom' and ((${matches}) or exists (select 1 from item_barcode b where b.item_id = i.id and b.barcode = ?))
     order by rank, i.code limit 12`,
    wanted,
    wanted,
    wanted,
    `${wanted.replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`,
    ...words.flatMap((word) => [word, word, word]),
    wanted,
  );
  return rows.map((row) => ({
    id: row.id,
    code: row.code,
    description: row.description,
    unit: row.unit,
    decimals: row.decimals,
    kind: row.kind,
    sellPrice: writePrice(row.sellPrice),
    packs: packsOf(work, row.id),
  }));
}

function packsOf(work: Work, id: number): { code: string; factor: string }[] {
  return work
    .rows<{ code: string; factor: number }>('select code, factor from pack_unit where item_id = ? order by factor', id)
    .map((each) => ({ code: each.code, factor: writeQuantity(each.factor) }));
}

/** One item with its terms, what it is made from and where it is used. */
export function itemView(work: Work, id: number): ItemView {
  const [row] = work.db.select().from(tables.item).where(eq(tables.item.id, id)).all();
  const item = orNotFound(row, 'item');
  const terms = work.rows<{
    id: number;
    supplierId: number;
    supplier: string;
    supplierItemCode: string;
    price: number;
    leadDays: number;
    minimum: number;
    multiple: number;
    preferred: number;
  }>(
    `select t.id, t.supplier_id as supplierId, s.name as supplier, t.supplier_item_code as supplierItemCode, t.price, t.lead_days as leadDays, t.minimum, t.multiple, t.preferred
     from supplier_term t join supplier s on s.id = t.supplier_id where t.item_id = ? order by t.preferred desc, t.price`,
    id,
  );
  const bom = work.rows<ItemView['bom'][number]>(
    `select b.position, b.component_id as componentId, c.code as component, c.description, c.unit_code as unit, b.quantity, b.scrap, b.offset_days as offsetDays, b.valid_from as validFrom, b.valid_to as validTo
     from bom_line b join item c on c.id = b.component_id where b.item_id = ? order by b.position`,
    id,
  );
  const rules = work.rows<{
    warehouseId: number;
    warehouse: string;
    source: string;
    leadDays: number;
    safety: number;
    minimum: number;
    multiple: number;
  }>(
    'select r.warehouse_id as warehouseId, w.code as warehouse, r.source, r.lead_days as leadDays, r.safety, r.minimum, r.multiple from planning_rule r join warehouse w on w.id = r.warehouse_id where r.item_id = ? order by w.code',
    id,
  );
  return {
    id,
    code: item.code,
    description: item.description,
    kind: item.kind,
    group: item.groupCode,
    unit: item.unitCode,
    decimals: itemFacts(work, id).decimals,
    secondCode: item.secondCode,
    barcodes: work.rows<{ barcode: string }>('select barcode from item_barcode where item_id = ? order by barcode', id).map((each) => each.barcode),
    tracking: item.tracking,
    costing: item.costing,
    sellPrice: writePrice(item.sellPrice),
    sellingNotes: item.sellingNotes,
    active: item.active,
    version: item.version,
    packs: packsOf(work, id),
    terms: terms.map((each) => ({
      ...each,
      price: writePrice(each.price),
      minimum: writeQuantity(each.minimum),
      multiple: writeQuantity(each.multiple),
      preferred: each.preferred === 1,
    })),
    bom,
    usedIn: work.rows(
      'select p.id, p.code, p.description, b.quantity from bom_line b join item p on p.id = b.item_id where b.component_id = ? order by p.code',
      id,
    ),
    rules: rules.map((each) => ({
      ...each,
      safety: writeQuantity(each.safety),
      minimum: writeQuantity(each.minimum),
      multiple: writeQuantity(each.multiple),
    })),
  };
}

type ItemInput = BodyOf<typeof api.catalogue.createItem>;

/** Sets up an item. Refuses `codeTaken`, `barcodeTaken`, `unknownUnit`, `unknownGroup`. */
export function createItem(work: Work, input: ItemInput): ItemView {
  const decimals = decimalsOf(work, input.unit);
  assertGroup(work, input.group);
  assertCodeFree(work, input.code, 0);
  const { id } = work.run(
    'insert into item (code, second_code, description, kind, group_code, unit_code, sell_price, selling_notes) values (?, ?, ?, ?, ?, ?, ?, ?)',
    input.code,
    input.secondCode,
    input.description,
    input.kind,
    input.group,
    input.unit,
    atField('sellPrice', () => parsePrice(input.sellPrice, 'the selling price')),
    input.sellingNotes,
  );
  keepBarcodes(work, id, input.barcodes);
  keepPacks(work, id, input.packs, decimals);
  work.record('item', id, `set up ${input.code}`);
  return itemView(work, id);
}

/** Changes an item. What still has stock or open documents may become inactive, but says so in its history. */
export function changeItem(work: Work, id: number, input: BodyOf<typeof api.catalogue.changeItem>): ItemView {
  const before = itemView(work, id);
  assertVersion(work, 'item', before, input.version, before.code);
  assertGroup(work, input.group);
  assertCodeFree(work, input.code, id);
  work.run(
    'update item set code = ?, second_code = ?, description = ?, kind = ?, group_code = ?, sell_price = ?, selling_notes = ?, active = ?, version = version + 1 where id = ?',
    input.code,
    input.secondCode,
    input.description,
    input.kind,
    input.group,
    atField('sellPrice', () => parsePrice(input.sellPrice, 'the selling price')),
    input.sellingNotes,
    input.active ? 1 : 0,
    id,
  );
  keepBarcodes(work, id, input.barcodes);
  keepPacks(work, id, input.packs, before.decimals);
  const after = itemView(work, id);
  const { code, secondCode, description, kind, group, sellPrice, sellingNotes, active, barcodes, packs } = after;
  work.record(
    'item',
    id,
    `changed ${code}`,
    changesBetween({ ...before }, { code, secondCode, description, kind, group, sellPrice, sellingNotes, active, barcodes, packs }),
  );
  return after;
}

function decimalsOf(work: Work, unit: string): number {
  const row = work.row<{ decimals: number }>('select decimals from unit where code = ?', unit);
  if (!row) throw new Refusal('unknownUnit', `There is no unit "${unit}": choose one from the list.`, { field: 'unit' });
  return row.decimals;
}

function assertGroup(work: Work, group: string): void {
  if (!work.row('select 1 from item_group where code = ?', group))
    throw new Refusal('unknownGroup', `There is no item group "${group}": choose one from the list.`, { field: 'group' });
}

function assertCodeFree(work: Work, code: string, exceptId: number): void {
  const taken = work.row<{ description: string }>('select description from item where code = ? collate nocase and id <> ?', code, exceptId);
  if (taken) throw new Refusal('codeTaken', `The code ${code} belongs to "${taken.description}" already: choose another.`, { field: 'code' });
}

function keepBarcodes(work: Work, id: number, barcodes: readonly string[]): void {
  work.run('delete from item_barcode where item_id = ?', id);
  barcodes.forEach((barcode, index) => {
    const taken = work.row<{ code: string }>('select i.code from item_barcode b join item i on i.id = b.item_id where b.barcode = ?', barcode);
    if (taken) throw new Refusal('barcodeTaken', `The barcode ${barcode} belongs to ${taken.code} already.`, { field: `barcodes.${index}` });
    work.run('insert into item_barcode (barcode, item_id) values (?, ?)', barcode, id);
  });
}

function keepPacks(work: Work, id: number, packs: ItemInput['packs'], decimals: number): void {
  work.run('delete from pack_unit where item_id = ?', id);
  packs.forEach((pack, index) => {
    const factor = atField(`packs.${index}.factor`, () => parsePositiveQuantity(pack.factor, decimals, 'the factor'));
    work.run('insert into pack_unit (item_id, code, factor) values (?, ?, ?)', id, pack.code, factor);
  });
}

/** Sets a supplier's terms for an item; at most one supplier is preferred. */
export function setTerm(work: Work, id: number, input: BodyOf<typeof api.catalogue.setTerm>): ItemView {
  const { code, decimals } = itemFacts(work, id);
  const supplier = orNotFound(work.row<{ name: string }>('select name from supplier where id = ?', input.supplierId), 'supplier');
  if (input.preferred) work.run('update supplier_term set preferred = 0 where item_id = ?', id);
  work.run(
    `insert into supplier_term (item_id, supplier_id, supplier_item_code, price, lead_days, minimum, multiple, preferred) values (?, ?, ?, ?, ?, ?, ?, ?)
     on conflict (item_id, supplier_id) do update set supplier_item_code = excluded.supplier_item_code, price = excluded.price, lead_days = excluded.lead_days,
       minimum = excluded.minimum, multiple = excluded.multiple, preferred = excluded.preferred`,
    id,
    input.supplierId,
    input.supplierItemCode,
    atField('price', () => parsePrice(input.price)),
    input.leadDays,
    atField('minimum', () => parseQuantity(input.minimum, decimals, 'the minimum')),
    atField('multiple', () => parseQuantity(input.multiple, decimals, 'the multiple')),
    input.preferred ? 1 : 0,
  );
  work.record('item', id, `set the terms of ${supplier.name} for ${code}`);
  return itemView(work, id);
}

/** Sets how an item is planned in a warehouse. */
export function setRule(work: Work, id: number, input: BodyOf<typeof api.catalogue.setRule>): ItemView {
  const { code, decimals } = itemFacts(work, id);
  const warehouse = orNotFound(work.row<{ code: string }>('select code from warehouse where id = ?', input.warehouseId), 'warehouse');
  const read = (field: 'safety' | 'minimum' | 'multiple'): number =>
    atField(field, () => {
      const quantity = parseQuantity(input[field], decimals, `the ${field}`);
      if (quantity < 0) throw new Refusal('negative', `The ${field} can't be below 0.`);
      return quantity;
    });
  work.run(
    `insert into planning_rule (item_id, warehouse_id, source, lead_days, safety, minimum, multiple, slack_days) values (?, ?, ?, ?, ?, ?, ?, ?)
     on conflict (item_id, warehouse_id) do update set source = excluded.source, lead_days = excluded.lead_days, safety = excluded.safety,
       minimum = excluded.minimum, multiple = excluded.multiple, slack_days = excluded.slack_days`,
    id,
    input.warehouseId,
    input.source,
    input.leadDays,
    read('safety'),
    read('minimum'),
    read('multiple'),
    input.slackDays,
  );
  work.record('item', id, `set how ${code} is planned in ${warehouse.code}`);
  return itemView(work, id);
}
