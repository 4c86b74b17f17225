/** A company whose stores people work in, with the steps that tests of the stores take again and again. */
import { expect } from 'vitest';
import { api, type PurchaseView } from '@terrace/contract';
import { openCompany, TODAY, type Client, type Company } from './company';

const { accounts, stores, buying, catalogue, selling } = api;

export type Pieces = { lot?: string; expiry?: string; madeOn?: string; quantity?: string; serials?: string }[];

/** People at the stores of a company, and what they do. */
export interface StoreRoom extends ReturnType<typeof stepsOf> {
  readonly company: Company;
  readonly keeper: Client;
  manager: Client;
  /** Ends it, once all that is kept is sound and the accounts equal their ledgers. */
  readonly closeProven: () => Promise<void>;
}

export async function openStoreRoom(): Promise<StoreRoom> {
  const company = await openCompany();
  const keeper = await company.as('storekeeper');
  const manager = await company.as('manager');
  const closeProven = async (): Promise<void> => {
    company.sound();
    const { checks } = await manager.call(accounts.proof);
    expect(checks.filter((check) => !check.holds)).toEqual([]);
    await company.close();
  };
  return { company, keeper, manager, closeProven, ...stepsOf(manager) };
}

function stepsOf(manager: Client) {
  /** Sets up an item of its own with a term at 2.00. */
  async function newItem(code: string, more: Record<string, unknown> = {}): Promise<number> {
    const { id } = await manager.call(catalogue.createItem, {
      body: { code, description: `${code} of the stores`, group: 'ALL', unit: 'each', sellPrice: '10.00', ...more },
    });
    await manager.call(catalogue.setTerm, { params: { id }, body: { supplierId: 1, price: '2.00', leadDays: 3 } });
    await manager.call(api.planning.setRule, {
      params: { id },
      body: { warehouseId: 1, source: 'buy', leadDays: 0, safety: '0', minimum: '0', multiple: '0', slackDays: 0 },
    });
    return id;
  }

  async function priceItem(itemId: number, sellPrice: string, more: { discountCeiling?: string } = {}): Promise<void> {
    const { code, description, group, unit, version } = await manager.call(catalogue.getItem, { params: { id: itemId } });
    await manager.call(catalogue.changeItem, {
      params: { id: itemId },
      body: { code, description, group, unit, version, active: true, sellPrice, ...more },
    });
  }

  async function sentOrder(itemId: number, quantity: string, price: string): Promise<PurchaseView> {
    const order = await manager.call(buying.createPurchase, {
      body: { supplierId: 1, warehouseId: 1, note: '', custom: {}, lines: [{ itemId, quantity, price, dueDate: TODAY }] },
    });
    const approved = await manager.call(buying.approvePurchase, { params: { id: order.id }, body: { version: order.version } });
    return manager.call(buying.sendPurchase, { params: { id: order.id }, body: { version: approved.version } });
  }

  async function receive(itemId: number, quantity: string, price: string, pieces?: Pieces, binId = 1): Promise<number> {
    const order = await sentOrder(itemId, quantity, price);
    const after = await manager.call(buying.receive, {
      params: { id: order.id },
      body: { version: order.version, binId, lines: [{ lineId: order.lines[0]?.id ?? 0, quantity, ...(pieces ? { pieces } : {}) }] },
    });
    return after.receipts.at(-1)?.id ?? 0;
  }

  const take = (itemId: number, change: string, pieces?: Pieces, more: Record<string, unknown> = {}) => ({
    body: {
      warehouseId: 1,
      reason: 'BREAKAGE',
      note: 'fell',
      lines: [{ itemId, binId: 1, change, ...(pieces ? { pieces } : {}) }],
      ...more,
    } as never,
  });
  const worthOf = async (code: string, date = TODAY): Promise<string | undefined> =>
    (await manager.call(stores.worth, { query: { by: 'item', date, find: code } })).rows[0]?.value;

  async function confirmed(itemId: number, quantity: string, requiredDate = TODAY): Promise<number> {
    const order = await manager.call(selling.createOrder, {
      body: { customerId: 1, reference: '', warehouseId: 1, requiredDate, note: '', custom: {}, lines: [{ itemId, quantity }] },
    });
    await manager.call(selling.confirmOrder, { params: { id: order.id }, body: { version: order.version } });
    return order.id;
  }
  return { priceItem, newItem, sentOrder, receive, take, worthOf, confirmed };
}
