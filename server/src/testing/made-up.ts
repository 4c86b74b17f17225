/** Requests made up from the contract's schemas, and some of everything for them to find. */
import { api } from '@terrace/contract';
import type { z } from 'zod';
import { TODAY, type Client, type Company } from './company';

/** Texts and numbers of which some please every field; what a schema refuses is not sent. */
const TEXTS = [
  '1', '2', '0.5', '3.25', '0', '12', '-1', TODAY, '2027-03-09', '2027-06-30', '2026-12-01', 'SMOKER', 'BAR', 'FRAME', 'WORKS', 'DEPOT', 'each', 'ALL',
  'STD', 'METAL', 'BREAKAGE', 'FULL', 'a word', 'KG', 'PO-1001/1', 'CO-1001/1', '',
]; // prettier-ignore
const NUMBERS = [1, 2, 3, 4, 0, 7, 30, 5, 12, 0.5, -1];

/** Takes one choice after the other; the same choices make the same value. */
export class Chooser {
  private at = 0;
  constructor(private readonly choices: readonly number[]) {}

  below(most: number): number {
    const choice = this.choices[this.at % this.choices.length] ?? 0;
    this.at += 1;
    return choice % most;
  }
}

interface Def {
  readonly type: string;
  readonly innerType?: z.ZodType;
  readonly element?: z.ZodType;
  readonly shape?: Readonly<Record<string, z.ZodType>>;
  readonly options?: readonly z.ZodType[];
  readonly items?: readonly z.ZodType[];
  readonly entries?: Readonly<Record<string, string>>;
  readonly values?: readonly unknown[];
  readonly in?: z.ZodType;
  readonly valueType?: z.ZodType;
}

/** Something that a schema takes, as it would be sent. */
export function valueOf(schema: z.ZodType, choose: Chooser): unknown {
  const def = (schema as unknown as { def: Def }).def;
  const among = (candidates: readonly unknown[]): unknown => {
    const good = candidates.filter((each) => schema.safeParse(each).success);
    return (good.length === 0 ? candidates : good)[choose.below(Math.max(1, good.length || candidates.length))];
  };
  switch (def.type) {
    case 'object':
      return Object.fromEntries(
        Object.entries(def.shape ?? {}).map(([name, field]) => [name, name === 'version' ? 1 + choose.below(3) : valueOf(field, choose)]),
      );
    case 'array':
      return Array.from({ length: 1 + choose.below(2) }, () => valueOf(def.element as z.ZodType, choose));
    case 'tuple':
      return (def.items ?? []).map((item) => valueOf(item, choose));
    case 'record':
      return {};
    case 'optional':
    case 'default':
      return choose.below(3) === 0 ? undefined : valueOf(def.innerType as z.ZodType, choose);
    case 'nullable':
      return choose.below(3) === 0 ? null : valueOf(def.innerType as z.ZodType, choose);
    case 'readonly':
      return valueOf(def.innerType as z.ZodType, choose);
    case 'pipe':
      return valueOf(def.in as z.ZodType, choose);
    case 'union':
      return valueOf(def.options?.[choose.below(def.options.length)] as z.ZodType, choose);
    case 'enum':
      return Object.values(def.entries ?? {})[choose.below(Object.keys(def.entries ?? {}).length)];
    case 'literal':
      return def.values?.[0];
    case 'boolean':
      return choose.below(2) === 0;
    case 'number':
      return among(NUMBERS);
    case 'unknown':
    case 'any':
      return 'anything';
    default:
      return among(TEXTS);
  }
}

/** Some of everything, so that what is done by number finds something. */
export async function begun(company: Company, manager: Client): Promise<void> {
  const { selling, buying, production, dispatch, stores } = api;
  const smoker = company.id('item', 'SMOKER');
  const lines = [
    { itemId: smoker, quantity: '2' },
    { itemId: company.id('item', 'BAR'), quantity: '3' },
  ];
  const order = await manager.call(selling.createOrder, {
    body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-09', lines, confirm: true },
  });
  await manager.call(selling.createOrder, { body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-19', lines } });
  const shipment = await manager.call(dispatch.createShipment, { body: { orderId: order.id } });
  const picked = await manager.call(dispatch.startPicking, { params: { id: shipment.id }, body: { version: shipment.version } });
  await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: picked.version } });
  const invoice = await manager.call(selling.invoiceOrder, { params: { id: order.id }, body: {} });
  await manager.call(api.accounts.payInvoice, { params: { id: invoice.id }, body: { amount: '5.00', method: 'cash' } });
  const bought = await manager.call(buying.createPurchase, {
    body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: smoker, quantity: '12', price: '1.37', dueDate: '2027-03-09' }] },
  });
  const approved = await manager.call(buying.approvePurchase, { params: { id: bought.id }, body: { version: bought.version } });
  const sent = await manager.call(buying.sendPurchase, { params: { id: bought.id }, body: { version: approved.version } });
  const [line] = sent.lines;
  const receipt = { version: sent.version, binId: 1, lines: [{ lineId: line?.id ?? 0, quantity: '4' }] };
  await manager.call(buying.receive, { params: { id: bought.id }, body: receipt });
  await manager.call(production.createProduction, {
    body: { itemId: company.id('item', 'FRAME'), warehouseId: 1, quantity: '2', dueDate: '2027-03-10' },
  });
  await manager.call(stores.requestTransfer, {
    body: { fromId: 1, toId: 2, shipDate: TODAY, dueDate: '2027-03-04', lines: [{ itemId: smoker, quantity: '1' }] },
  });
  await manager.call(stores.adjust, {
    body: { warehouseId: 1, reason: 'BREAKAGE', note: 'fell', lines: [{ itemId: smoker, binId: 1, change: '-1' }] },
  });
}
