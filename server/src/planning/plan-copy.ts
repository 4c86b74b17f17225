/** The plan copied with all that it counts with, so that a question of what would be if needs nothing more. */
import type { PlanCopyView } from '@terrace/contract';
import { asAmount, asQuantity, unitCostOf, writePrice, writeQuantity } from '@terrace/core';
import { validTerms } from '../catalogue';
import type { Work } from '../platform/work';
import { gatherProblem, gatherReserved } from './problem';
import { planStateRow } from './view';

const ITEMS = "select id, code, description, unit_code as unit, buy_price as buyPrice from item where kind in ('stocked', 'phantom') order by code";
const OWN = `select i.code as item, w.code as warehouse, r.lead_days as leadDays, r.minimum, r.multiple from planning_rule r join item i on i.id = r.item_id
  join warehouse w on w.id = r.warehouse_id where i.kind in ('stocked', 'phantom')`;
const COMING = `select o.number || '/' || l.position as id, s.code as supplier, l.price from purchase_order_line l join purchase_order o on o.id = l.order_id
  join supplier s on s.id = o.supplier_id where o.state in ('draft', 'approved', 'sent', 'partReceived') and l.quantity > l.received + l.cancelled`;
const KEPT =
  "select f.number as id, s.id as supplierId, s.code as supplier, f.item_id as itemId from plan_firm f join supplier s on s.id = f.supplier_id where f.kind = 'buy'";
const MAKING =
  "select number as id, start_date as start, state = 'running' as running from production_order where state in ('draft', 'released', 'running') and quantity > finished";
const ORDERS = `select o.id, o.number, c.name as customer from customer_order o join customer c on c.id = o.customer_id where o.state in ('confirmed', 'partShipped')`;
const WORTH = 'select item_id as itemId, sum(quantity) as quantity, sum(value) as value from cost_pool group by item_id';

/** What is only written out, so that nothing of it has to be a list that may be changed. */
type Written<T> = T extends readonly (infer Row)[] ? readonly Written<Row>[] : T extends object ? { readonly [Key in keyof T]: Written<T[Key]> } : T;

export function gatherCopy(work: Work): Written<PlanCopyView> {
  const plan = work.inPlan();
  const state = plan && planStateRow(plan);
  const suppliers = work.rows<{ id: number; code: string; name: string }>('select id, code, name from supplier order by name');
  const codes = new Map(suppliers.map((each) => [each.id, each.code]));
  const terms = validTerms(work);
  const worth = new Map(work.rows<{ itemId: number; quantity: number; value: number }>(WORTH).map((each) => [each.itemId, each]));
  const items = work.rows<{ id: number; code: string; description: string; unit: string; buyPrice: number }>(ITEMS);
  const asked = (itemId: number, supplierId?: number): number => {
    const offers = terms.get(itemId) ?? [];
    const offer = supplierId === undefined ? offers[0] : offers.find((each) => each.supplierId === supplierId);
    return offer?.prices[0]?.price ?? 0;
  };
  return {
    seq: state?.seq ?? 0,
    problem: gatherProblem(work),
    facts: {
      costs: items.map(({ id, code, buyPrice }) => {
        const here = worth.get(id);
        const kept = here && here.quantity > 0 ? unitCostOf(asAmount(here.value), asQuantity(here.quantity)) : 0;
        return { item: code, cost: writePrice(kept > 0 ? kept : asked(id) || buyPrice) };
      }),
      offers: items.flatMap(({ id, code }) =>
        (terms.get(id) ?? []).map((each) => ({
          item: code,
          supplier: codes.get(each.supplierId) ?? '',
          preferred: each.preferred,
          leadDays: each.leadDays,
          minimum: writeQuantity(each.minimum),
          multiple: writeQuantity(each.multiple),
          prices: each.prices.map((one) => ({ from: writeQuantity(one.from), price: writePrice(one.price) })),
        })),
      ),
      own: work
        .rows<{ item: string; warehouse: string; leadDays: number; minimum: number; multiple: number }>(OWN)
        .map((each) => ({ ...each, minimum: writeQuantity(each.minimum), multiple: writeQuantity(each.multiple) })),
      coming: [
        ...work.rows<{ id: string; supplier: string; price: number }>(COMING).map((each) => ({ ...each, price: writePrice(each.price) })),
        ...work
          .rows<{ id: string; supplierId: number; supplier: string; itemId: number }>(KEPT)
          .map(({ id, supplier, supplierId, itemId }) => ({ id, supplier, price: writePrice(asked(itemId, supplierId)) })),
      ],
      reserved: [...gatherReserved(work)].map(([demand, quantity]) => ({ demand, quantity })),
      making: work.rows<{ id: string; start: string; running: number }>(MAKING).map((each) => ({ ...each, running: each.running === 1 })),
    },
    words: {
      items: items.map(({ id, code, description, unit }) => ({ id, code, description, unit })),
      suppliers,
      orders: work.rows(ORDERS),
      warehouses: work.rows('select id, code from warehouse order by code'),
    },
  };
}
