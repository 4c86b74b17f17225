/** Items as they are kept, and what documents need to know of them. */
import type { ItemView } from '@terrace/contract';
import { Refusal, writePoints, writePrice, type CostingMethod } from '@terrace/core';
import { orNotFound, type Work } from '../platform/work';

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
): {
  code: string;
  kind: string;
  tracking: 'none' | 'lot' | 'serial';
  costing: CostingMethod;
  standardCost: number;
  inventoryAccount: string;
  costOfSalesAccount: string;
  revenueAccount: string;
} {
  return orNotFound(
    work.row(
      `select i.code, i.kind, i.tracking, i.costing, i.standard_cost as standardCost, g.inventory_account as inventoryAccount, g.cost_of_sales_account as costOfSalesAccount, g.revenue_account as revenueAccount
       from item i join item_group g on g.code = i.group_code where i.id = ?`,
      id,
    ),
    'item',
  );
}

export interface ItemRecord {
  readonly id: number;
  readonly code: string;
  readonly secondCode: string | null;
  readonly description: string;
  readonly kind: ItemView['kind'];
  readonly groupCode: string;
  readonly unitCode: string;
  readonly decimals: number;
  readonly tracking: ItemView['tracking'];
  readonly costing: CostingMethod;
  readonly sellPrice: number;
  readonly buyPrice: number;
  readonly standardCost: number;
  readonly sellingNotes: string;
  readonly manufacturer: string;
  readonly originCountry: string;
  readonly commodityCode: string;
  readonly storageOverhead: number;
  readonly discountCeiling: number | null;
  readonly shelfLifeDays: number | null;
  readonly restLifeDays: number | null;
  readonly buyUnit: string | null;
  readonly sellUnit: string | null;
  readonly countUnit: string | null;
  readonly follows: string;
  readonly familyId: number | null;
  readonly family: string | null;
  readonly variant: string | null;
  readonly active: number;
  readonly version: number;
}

const ITEM = `select i.id, i.code, i.second_code as secondCode, i.description, i.kind, i.group_code as groupCode, i.unit_code as unitCode, u.decimals, i.tracking, i.costing,
    i.sell_price as sellPrice, i.buy_price as buyPrice, i.standard_cost as standardCost, i.selling_notes as sellingNotes, i.manufacturer, i.origin_country as originCountry,
    i.commodity_code as commodityCode, i.storage_overhead as storageOverhead, i.discount_ceiling as discountCeiling, i.shelf_life_days as shelfLifeDays,
    i.rest_life_days as restLifeDays, i.buy_unit as buyUnit, i.sell_unit as sellUnit, i.count_unit as countUnit, i.follows, i.family_id as familyId, f.code as family,
    i.variant, i.active, i.version
  from item i join unit u on u.code = i.unit_code left join item_family f on f.id = i.family_id where i.id = ?`;

/** An item as kept. Refuses `notFound`. */
export function itemOf(work: Work, id: number): ItemRecord {
  return orNotFound(work.row<ItemRecord>(ITEM, id), 'item');
}

/** Fields of an item as text, for its history and for what an import changes. */
export function fieldsOfItem(item: ItemRecord): Record<string, string> {
  const points = (value: number | null): string => (value === null ? '' : writePoints(value));
  return {
    code: item.code,
    secondCode: item.secondCode ?? '',
    description: item.description,
    kind: item.kind,
    group: item.groupCode,
    unit: item.unitCode,
    tracking: item.tracking,
    costing: item.costing,
    sellPrice: writePrice(item.sellPrice),
    buyPrice: writePrice(item.buyPrice),
    standardCost: writePrice(item.standardCost),
    sellingNotes: item.sellingNotes,
    manufacturer: item.manufacturer,
    originCountry: item.originCountry,
    commodityCode: item.commodityCode,
    storageOverhead: points(item.storageOverhead),
    discountCeiling: points(item.discountCeiling),
    shelfLifeDays: item.shelfLifeDays === null ? '' : String(item.shelfLifeDays),
    restLifeDays: item.restLifeDays === null ? '' : String(item.restLifeDays),
    buyUnit: item.buyUnit ?? '',
    sellUnit: item.sellUnit ?? '',
    countUnit: item.countUnit ?? '',
    active: item.active === 1 ? 'yes' : 'no',
  };
}

const OPEN_DOCUMENTS = `
  select o.number from customer_order_line l join customer_order o on o.id = l.order_id where l.item_id = ?1 and o.open = 1 and l.quantity > l.shipped + l.cancelled
  union select o.number from purchase_order_line l join purchase_order o on o.id = l.order_id where l.item_id = ?1 and o.state not in ('received', 'cancelled') and l.quantity > l.received + l.cancelled
  union select o.number from production_order o where o.item_id = ?1 and o.state in ('draft', 'released', 'running')
  union select 'bill of materials of ' || p.code from bom_line b join item p on p.id = b.item_id where b.component_id = ?1 and p.active = 1
  limit 6`;

/** What would be left hanging if an item became inactive. */
export function inUse(work: Work, item: ItemRecord): string[] {
  const held = work.row<{ n: number | null }>('select sum(quantity) as n from balance where item_id = ?', item.id)?.n ?? 0;
  const open = work.rows<{ number: string }>(OPEN_DOCUMENTS, item.id).map((each) => each.number);
  return held > 0 ? ['stock on hand', ...open] : open;
}
