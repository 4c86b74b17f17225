/** What a company has and lacks, in the order of the work: worked out from the data each time, so that it is the health check of its master data as well. */
import { and, eq, isNull, ne, notExists, sql, type SQL } from 'drizzle-orm';
import type { SQLiteTable } from 'drizzle-orm/sqlite-core';
import type { GuideStep } from '@terrace/contract';
import { purchaseOrder } from '../buying';
import { bin, bomLine, currency, customer, exchangeRate, item, itemGroup, supplier, supplierTerm, unit, warehouse } from '../catalogue';
import { planState, planningRule } from '../planning';
import { query } from '../platform/query';
import { user } from '../platform/schema';
import { currencyOf } from '../platform/settings';
import type { Work } from '../platform/work';
import { productionOrder } from '../production';
import { customerOrder, priceList } from '../selling';
import { stockMove } from '../stores';

const rowsOf = (table: SQLiteTable, where?: SQL) =>
  query(
    () => (db) =>
      db
        .select({ n: sql<number>`count(*)` })
        .from(table)
        .where(where),
  );
/** Items that are planned from a source, and have none of what that takes. */
const plannedWithout = (source: 'buy' | 'make', needed: typeof supplierTerm | typeof bomLine) =>
  query(
    () => (db) =>
      db
        .select({ n: sql<number>`count(distinct ${item.id})` })
        .from(planningRule)
        .innerJoin(item, eq(item.id, planningRule.itemId))
        .where(
          and(
            eq(item.active, true),
            eq(planningRule.source, source),
            notExists(
              db
                .select({ one: sql`1` })
                .from(needed as SQLiteTable)
                .where(eq(needed.itemId, planningRule.itemId)),
            ),
          ),
        ),
  );
const stocked = and(eq(item.active, true), eq(item.kind, 'stocked'));

const counted = {
  warehouses: rowsOf(warehouse),
  bins: rowsOf(bin, eq(bin.dock, false)),
  people: rowsOf(user, eq(user.active, true)),
  notJoined: rowsOf(user, and(eq(user.active, true), eq(user.passwordHash, ''))),
  units: rowsOf(unit),
  groups: rowsOf(itemGroup),
  items: rowsOf(item, eq(item.active, true)),
  withoutPrice: rowsOf(item, and(stocked, eq(item.sellPrice, sql`0`))),
  suppliers: rowsOf(supplier, eq(supplier.active, true)),
  withoutMail: rowsOf(supplier, and(eq(supplier.active, true), eq(supplier.email, ''))),
  terms: rowsOf(supplierTerm),
  customers: rowsOf(customer, eq(customer.active, true)),
  withoutTax: rowsOf(customer, and(eq(customer.active, true), isNull(customer.taxCode))),
  priceLists: rowsOf(priceList),
  moves: rowsOf(stockMove),
  customerOrders: rowsOf(customerOrder),
  purchaseOrders: rowsOf(purchaseOrder),
  productionOrders: rowsOf(productionOrder),
  made: query(() => (db) => db.select({ n: sql<number>`count(distinct ${bomLine.itemId})` }).from(bomLine)),
  bomLines: rowsOf(bomLine),
  notPlanned: query(
    () => (db) =>
      db
        .select({ n: sql<number>`count(*)` })
        .from(item)
        .where(
          and(
            stocked,
            notExists(
              db
                .select({ one: sql`1` })
                .from(planningRule)
                .where(eq(planningRule.itemId, item.id)),
            ),
          ),
        ),
  ),
  withoutSupplier: plannedWithout('buy', supplierTerm),
  withoutBom: plannedWithout('make', bomLine),
} as const;
/** Currencies besides that of the books that have no rate. */
const withoutRate = query(
  ($: { books: string }) => (db) =>
    db
      .select({ code: currency.code })
      .from(currency)
      .where(
        and(
          ne(currency.code, $.books),
          notExists(
            db
              .select({ one: sql`1` })
              .from(exchangeRate)
              .where(eq(exchangeRate.currency, currency.code)),
          ),
        ),
      )
      .orderBy(currency.code),
);

type Counts = Readonly<Record<keyof typeof counted, number>>;

/** "1 item", "2,000 items". */
function many(count: number, one: string, several = `${one}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? one : several}`;
}

/** A lack, where there is any. */
function lack(count: number, text: string, blocks: string, link: string): GuideStep['lacks'] {
  return count > 0 ? [{ text, blocks, link }] : [];
}

type Told = Omit<GuideStep, 'state'> & {
  /** How much there is of what the step is about. */
  readonly has: number;
};

function stepOf({ has, ...step }: Told): GuideStep {
  return { ...step, state: has === 0 ? 'empty' : step.lacks.length > 0 ? 'lacking' : 'done' };
}

function placesAndPeople(n: Counts): Told[] {
  return [
    {
      key: 'places',
      title: 'Warehouses and bins',
      there: `${many(n.warehouses, 'warehouse')}, ${many(n.bins, 'bin')} besides the docks`,
      has: n.bins,
      lacks: lack(n.bins === 0 ? 1 : 0, 'There is no bin but the docks', 'Stock can only lie at the dock.', '/set-up/places'),
      link: '/set-up/places',
      file: null,
    },
    {
      key: 'people',
      title: 'People',
      there: `${many(n.people, 'person', 'people')} may sign in`,
      has: n.people - 1,
      lacks: [
        ...lack(n.people === 1 ? 1 : 0, 'Nobody but you may sign in', 'With one name for all, nobody can say who did what.', '/set-up/people'),
        ...lack(n.notJoined, `${many(n.notJoined, 'person has', 'people have')} not chosen a password`, 'They can’t sign in.', '/set-up/people'),
      ],
      link: '/set-up/people',
      file: null,
    },
  ];
}

function catalogueSteps(n: Counts, currencies: readonly string[]): Told[] {
  return [
    {
      key: 'ground',
      title: 'Units and groups',
      there: `${many(n.units, 'unit')}, ${many(n.groups, 'item group')}`,
      has: n.units * n.groups,
      lacks: lack(
        currencies.length,
        `${currencies.join(', ')} ${currencies.length === 1 ? 'has' : 'have'} no exchange rate`,
        'The plan leaves out suppliers who ask for it.',
        '/catalogue/ground',
      ),
      link: '/catalogue/ground',
      file: 'groups',
    },
    {
      key: 'items',
      title: 'Items',
      there: many(n.items, 'item'),
      has: n.items,
      lacks: lack(
        n.notPlanned,
        `${many(n.notPlanned, 'stocked item is', 'stocked items are')} planned in no warehouse`,
        'The plan leaves them out: say how under their group.',
        '/planning/rules',
      ),
      link: '/catalogue',
      file: 'items',
    },
    {
      key: 'suppliers',
      title: 'Suppliers and their terms',
      there: `${many(n.suppliers, 'supplier')}, ${many(n.terms, 'term')}`,
      has: n.terms,
      lacks: [
        ...lack(
          n.withoutSupplier,
          `${many(n.withoutSupplier, 'item that is bought has', 'items that are bought have')} no supplier`,
          'The plan can’t buy them.',
          '/planning/problems',
        ),
        ...lack(
          n.withoutMail,
          `${many(n.withoutMail, 'supplier has', 'suppliers have')} no mail address`,
          'Orders can’t be sent to them.',
          '/catalogue/suppliers',
        ),
      ],
      link: '/catalogue/suppliers',
      file: 'terms',
    },
    {
      key: 'customers',
      title: 'Customers and prices',
      there: `${many(n.customers, 'customer')}, ${many(n.priceLists, 'price list')}`,
      has: n.customers,
      lacks: [
        ...lack(
          n.withoutTax,
          `${many(n.withoutTax, 'customer has', 'customers have')} no tax code`,
          'Their invoices are without tax.',
          '/catalogue/customers',
        ),
        ...lack(
          n.withoutPrice,
          `${many(n.withoutPrice, 'stocked item has', 'stocked items have')} no selling price`,
          'Orders take them at nothing, unless a list prices them.',
          '/selling/prices/change',
        ),
      ],
      link: '/catalogue/customers',
      file: 'customers',
    },
    {
      key: 'boms',
      title: 'Bills of materials',
      there: `${many(n.made, 'item')} made from ${many(n.bomLines, 'line')}`,
      has: n.bomLines,
      lacks: lack(
        n.withoutBom,
        `${many(n.withoutBom, 'item that is made has', 'items that are made have')} no bill of materials`,
        'The plan can’t make them.',
        '/planning/problems',
      ),
      link: '/catalogue',
      file: 'boms',
    },
  ];
}

function running(n: Counts, plan: { readonly isMade: boolean; readonly suggestions: number; readonly problems: number }): Told[] {
  return [
    {
      key: 'stock',
      title: 'Opening stock',
      there: many(n.moves, 'stock move'),
      has: n.moves,
      lacks: [],
      link: '/stores/adjust',
      file: 'openingStock',
    },
    {
      key: 'orders',
      title: 'Open orders',
      there: `${many(n.customerOrders, 'customer order')}, ${many(n.purchaseOrders, 'purchase order')}, ${many(n.productionOrders, 'production order')}`,
      has: n.customerOrders + n.purchaseOrders + n.productionOrders,
      lacks: [],
      link: '/selling/orders/new',
      file: null,
    },
    {
      key: 'plan',
      title: 'The plan',
      there: plan.isMade ? many(plan.suggestions, 'suggestion') : 'Nothing is planned yet',
      has: plan.isMade ? 1 : 0,
      lacks: lack(plan.problems, `${many(plan.problems, 'data problem')}`, 'What they name is left out of the plan.', '/planning/problems'),
      link: '/planning',
      file: null,
    },
  ];
}

/** The steps of setting a company up, with what each has and lacks. */
export function guideOf(work: Work): GuideStep[] {
  const n = Object.fromEntries(Object.entries(counted).map(([name, count]) => [name, count.one(work)?.n ?? 0])) as Counts;
  const currencies = withoutRate.all(work, { books: currencyOf(work.store) }).map(({ code }) => code);
  const { seq, suggestions, problems } = planState(work);
  const plan = { isMade: seq > 0 && n.items > 0, suggestions, problems };
  return [...placesAndPeople(n), ...catalogueSteps(n, currencies), ...running(n, plan)].map(stepOf);
}
