/** What sales people did beyond plain orders: addresses and numbers of customers, a divided order, pieces that are free. */
import { addDays } from '@terrace/core';
import { api, orderInput, type OrderInput, type OrderView } from '@terrace/contract';
import { catalogue, dispatch, selling, type Work } from '@terrace/server';
import { idOf, type Perform } from './known';
import { ordersConfirmed } from './looks';

/** What customers call what they order. */
const THEIR_NUMBERS: readonly (readonly [customer: string, item: string, number: string, words: string])[] = [
  ['BRACKEN', 'SMOKER', 'BG-40112', 'Bee smoker, large'],
  ['BRACKEN', 'GLOVES', 'BG-40118', 'Gauntlets'],
  ['BRACKEN', 'HIVETOOL', 'BG-40121', ''],
  ['MEADCOOP', 'FRAMES-10', '7-310', 'Frames, ten'],
  ['MEADCOOP', 'STRIPS', '7-355', ''],
];

/** Enters an order as the route does: what is not said has its default. */
export function createOrder(work: Work, input: OrderInput): OrderView {
  return selling.createOrder(work, orderInput.parse(input));
}

export function tellSelling(perform: Perform, today: string): void {
  perform('tobin', today, (work) => {
    for (const [customer, item, theirCode, theirDescription] of THEIR_NUMBERS)
      catalogue.keepCustomerItem(work, idOf(work, 'customer', customer), { itemId: idOf(work, 'item', item), theirCode, theirDescription });
  });
  // A garden centre with two shops: one line goes to the other, one glove in ten is theirs, and suits come from who sews them.
  perform('tobin', today, (work) => {
    const { id, version } = createOrder(work, {
      customerId: idOf(work, 'customer', 'BRACKEN'),
      reference: 'spring, both shops',
      requiredDate: addDays(today, 11),
      warehouseId: idOf(work, 'warehouse', 'WORKS'),
      lines: [
        { itemId: idOf(work, 'item', 'SMOKER'), quantity: '2' },
        { itemId: idOf(work, 'item', 'GLOVES'), quantity: '11', free: '1', note: 'Sizes M and L, half each' },
        { itemId: idOf(work, 'item', 'STRIPS'), quantity: '2', shipTo: 'Mill Parade 3\nFennbridge' },
        { itemId: idOf(work, 'item', 'SUIT-M'), quantity: '3', direct: true },
      ],
    });
    return selling.confirmOrder(work, id, version, false);
  });
  divideOne(perform, today);
  offer(perform, today);
}

interface Offered {
  readonly kind?: 'blanket';
  readonly customer: string;
  readonly reference: string;
  /** Days from today: until when it holds, and when it is wanted. */
  readonly holds: number;
  readonly wanted: number;
  readonly probability: number;
  readonly lines: readonly (readonly [item: string, quantity: string, discount?: string])[];
}
const OFFERED: readonly Offered[] = [
  {
    customer: 'THORNE',
    reference: 'School apiary, four hives',
    holds: 3,
    wanted: 40,
    probability: 70,
    lines: [
      ['HIVE-10', '4'],
      ['SUIT-M', '6', '5'],
      ['GLOVES', '6'],
    ],
  },
  { customer: 'CORBY', reference: 'Second extractor', holds: 24, wanted: 50, probability: 40, lines: [['EXTRACT-9', '1']] },
  {
    customer: 'TARN',
    reference: 'Frames for May',
    holds: 12,
    wanted: 60,
    probability: 80,
    lines: [
      ['FRAMES-10', '20'],
      ['WAXSHEET', '200'],
    ],
  },
  { customer: 'ELDER', reference: 'Visitors’ hives', holds: 9, wanted: 45, probability: 20, lines: [['HIVE-10', '2']] },
  { kind: 'blanket', customer: 'MEADCOOP', reference: 'Jars, season', holds: 240, wanted: 20, probability: 100, lines: [['JAR-500', '6000', '4']] },
  {
    customer: 'SALLOW',
    reference: 'Suits for helpers',
    holds: 20,
    wanted: 35,
    probability: 60,
    lines: [
      ['SUIT-M', '4'],
      ['GLOVES', '8'],
    ],
  },
];

/** What is offered: a quote about to lapse, one ordered in part, one lost, and of one the rest; and a blanket order with its first call-off. */
function offer(perform: Perform, today: string): void {
  const made = OFFERED.map(({ kind = 'quote', customer, reference, holds, wanted, probability, lines }) =>
    perform('tobin', today, (work) =>
      selling.createQuote(
        work,
        api.selling.createQuote.body.parse({
          kind,
          customerId: idOf(work, 'customer', customer),
          warehouseId: idOf(work, 'warehouse', 'WORKS'),
          reference,
          requiredDate: addDays(today, wanted),
          validUntil: addDays(today, holds),
          probability,
          lines: lines.map(([item, quantity, discount = '0']) => ({ itemId: idOf(work, 'item', item), quantity, discount })),
        }),
      ),
    ),
  );
  const [, , frames, visitors, jars, suits] = made;
  if (!frames || !visitors || !jars || !suits) throw new RangeError('the demo company has no quotes');
  const some = (quote: OrderView, quantity: string) => [{ lineId: quote.lines[0]?.id ?? 0, quantity }];
  perform('tobin', today, (work) =>
    selling.orderFromQuote(work, frames.id, { version: frames.version, lines: some(frames, '5'), requiredDate: addDays(today, 30) }),
  );
  perform('tobin', today, (work) =>
    selling.orderFromQuote(work, jars.id, {
      version: jars.version,
      lines: some(jars, '600'),
      requiredDate: addDays(today, 28),
      reference: 'Jars, April',
    }),
  );
  perform('tobin', today, (work) => selling.loseQuote(work, visitors.id, { version: visitors.version, reason: 'date', note: 'they open in March' }));
  perform('tobin', today, (work) =>
    selling.orderFromQuote(work, suits.id, { version: suits.version, lines: some(suits, '2'), requiredDate: addDays(today, 20) }),
  );
  perform('tobin', today, (work) =>
    selling.loseQuote(work, suits.id, { version: selling.orderView(work, suits.id).version, reason: 'price', note: 'gloves elsewhere for less' }),
  );
}

/** What was there of an order went out today as a part of its own; the rest follows. */
function divideOne(perform: Perform, today: string): void {
  const parts = perform('tobin', today, (work) => {
    for (const { id } of ordersConfirmed.all(work)) {
      const view = selling.orderView(work, id);
      if (view.ready !== 'part' || view.lines.length < 2 || view.lines.some((line) => line.direct)) continue;
      const { parts: proposed } = selling.proposeDivision(work, id, ['short']);
      if (proposed.length > 1) return selling.divideOrder(work, id, { version: view.version, parts: [...proposed] }).orders;
    }
    return [];
  });
  const [first] = parts;
  if (!first) throw new RangeError('the demo company has no order that could be divided');
  const shipment = perform('perrin', today, (work) => {
    const made = dispatch.createShipment(work, first.id, undefined);
    return dispatch.startPicking(work, made.id, made.version);
  });
  perform('quill', today, (work) => dispatch.ship(work, shipment.id, shipment.version, undefined));
}
