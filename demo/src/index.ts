/** Builds the demo company in a data folder. */
import { existsSync, mkdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { customerInput, itemInput, listQuery, standardRoles, supplierInput, termInput, type PieceInput } from '@terrace/contract';
import { addDays } from '@terrace/core';
import {
  Audit,
  Commands,
  grantsOfRole,
  catalogue,
  hashPassword,
  keepSetting,
  openFile,
  openStore,
  planning,
  registerRooms,
  selling,
  setup,
  stores,
  type Actor,
  type Audited,
  type Store,
  type Work,
  closeFile,
  closeWhole,
  mayLoseTheLast,
} from '@terrace/server';
import { COMPANY, CUSTOMERS, PASSWORD, PEOPLE, SUPPLIERS, groundFor } from './company';
import { BOMS } from './boms';
import { ITEMS, barcodeOf } from './items';
import { tellCatalogue } from './catalogue';
import { binIdOf, idOf, type Perform } from './known';
import { DEPOT_RULES, EACH_FROM_THE_OTHER, ITEM_PLANNING, WORKS_RULES, followed } from './rules';
import { tellCounter } from './counter-story';
import { tellIncoming } from './incoming-story';
import { tellMoney } from './money-story';
import { tellReturns } from './returns-story';
import { tellSelling } from './selling-story';
import { Story } from './story';

export { COMPANY, PASSWORD, PEOPLE } from './company';
export { ITEMS, barcodeOf } from './items';

const DONE = 'terrace.db';

/** Whether a data folder has a company already. */
export function hasCompany(dataFolder: string): boolean {
  return existsSync(join(dataFolder, DONE));
}

/**
 * Builds the demo company as of a day, beside and then in place of what is there; a kill on the way leaves the folder
 * as it was.
 */
export async function buildDemo(dataFolder: string, migrationsFolder: string, today: string): Promise<void> {
  const beside = `${dataFolder}.building`;
  rmSync(beside, { recursive: true, force: true });
  const store = openStore(beside, migrationsFolder);
  // The folder takes its place only when it is whole.
  mayLoseTheLast(store);
  const file = planning.openPlanFile(beside);
  const plan = openFile(join(beside, planning.PLAN_FILE), { readonly: true });
  store.plan = plan;
  await fill(store, file, today, dataFolder);
  closeFile(plan);
  closeWhole(file);
  closeWhole(store);
  mkdirSync(dataFolder, { recursive: true });
  planning.dropPlanFile(dataFolder);
  for (const name of [DONE, `${DONE}-wal`, `${DONE}-shm`, 'files', 'outbox']) rmSync(join(dataFolder, name), { recursive: true, force: true });
  renameSync(join(beside, planning.PLAN_FILE), join(dataFolder, planning.PLAN_FILE));
  renameSync(join(beside, DONE), join(dataFolder, DONE));
  rmSync(beside, { recursive: true, force: true });
}

async function fill(store: Store, file: Store, today: string, dataFolder: string): Promise<void> {
  registerRooms();
  keepSetting(store, 'company', COMPANY);
  keepSetting(store, 'demoPassword', PASSWORD);
  const passwordHash = await hashPassword(PASSWORD);
  const actors = new Map<string, Actor>();
  let clock = { date: today, minute: 0 };
  const commands = new Commands(store, { today: () => clock.date, now: () => momentOf(clock.date, clock.minute) }, () => undefined);
  // Whoever sets the first people up is none of them.
  commands.perform({ id: 0, name: COMPANY, grants: grantsOfRole('administrator') }, (work) => {
    setup.setUpRoles(work);
    for (const { login, name, role } of PEOPLE) {
      const roleId = setup.roleCalled(work, standardRoles[role].name) ?? 0;
      const person = { login, name, email: `${login}@larkmoor.example`, roles: [{ roleId, warehouses: null }] };
      actors.set(login, { id: setup.addPerson(work, person, passwordHash), name, grants: grantsOfRole(role) });
    }
  });
  const perform: Perform = (who, date, command) => {
    clock = { date, minute: clock.date === date ? clock.minute + 1 : 0 };
    const actor = actors.get(who);
    if (!actor) throw new RangeError(`nobody in the demo company signs in as ${who}`);
    return commands.perform(actor, command);
  };
  const planner = new planning.Planner(store, file, () => ({ today: clock.date, now: momentOf(clock.date, clock.minute) }));
  const story = new Story(perform, today, () => planner.settleNow());
  perform('wilder', story.opening, (work) => setUp(work, today));
  perform('wilder', story.opening, openStock);
  perform('wilder', story.opening, tellHouse);
  perform('wilder', story.opening, tellCatalogue);
  story.tell();
  // As the server does with every day: nothing is left to it that would be new once it starts.
  while (perform('wilder', today, planning.reviewSomeSafeties));
  perform('wilder', today, (work) => tellWays(work, dataFolder));
  perform('tobin', today, holdOne);
  tellSelling(perform, today);
  tellIncoming(perform, today);
  tellCounter(perform, today);
  tellReturns(perform, today);
  tellMoney(perform, today);
  await knocked(commands, (minute) => (clock = { date: addDays(today, -2), minute }), actors);
}

/** What the audit log has of the last days: somebody guessed Perrin's password, and the price list was taken out. */
async function knocked(commands: Commands, at: (minute: number) => void, actors: ReadonlyMap<string, Actor>): Promise<void> {
  const audit = new Audit(commands, (error) => {
    throw error;
  });
  const told = async (
    minute: number,
    login: string,
    address: string,
    entry: Pick<Audited, 'what' | 'route' | 'outcome' | 'detail'>,
  ): Promise<void> => {
    const { id = 0, name = '' } = actors.get(login) ?? {};
    at(minute);
    audit.note({ ...entry, person: { id, name }, address });
    await audit.keep();
  };
  const signIn = { route: 'POST /api/session', detail: '' };
  await told(12, 'perrin', '192.168.20.31', { ...signIn, what: 'signedIn', outcome: 'done' });
  await told(340, 'isolde', '192.168.20.17', { ...signIn, what: 'signedIn', outcome: 'done' });
  await told(351, 'isolde', '192.168.20.17', { what: 'fileTaken', route: 'GET /api/bulk/files/prices', outcome: 'done', detail: '42 rows as XLSX' });
  await told(402, 'quill', '192.168.20.22', {
    what: 'rightRefused',
    route: 'POST /api/accounts/close',
    outcome: 'notAllowed',
    detail: 'accounts.close',
  });
  for (const minute of [610, 611, 613]) await told(minute, 'perrin', '198.51.100.77', { ...signIn, what: 'signInFailed', outcome: 'wrongPassword' });
}

/** Working hours begin at eight; each command comes a minute after the last. */
function momentOf(date: string, minute: number): string {
  const hours = Math.min(23, 8 + Math.floor(minute / 60));
  return `${date}T${String(hours).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}:00.000Z`;
}

function setUp(work: Work, today: string): void {
  catalogue.setUpGround(work, groundFor(Number(today.slice(0, 4))));
  for (const customer of CUSTOMERS)
    catalogue.createCustomer(work, customerInput.parse({ ...customer, email: `${customer.code.toLowerCase()}@customers.example` }));
  for (const supplier of SUPPLIERS) catalogue.createSupplier(work, supplierInput.parse(supplier));
  ITEMS.forEach((item, index) => {
    const id = catalogue.createItem(
      work,
      itemInput.parse({
        code: item.code,
        description: item.description,
        ...(item.kind ? { kind: item.kind } : {}),
        group: item.group,
        ...(item.unit === 'each' ? {} : { unit: item.unit }),
        barcodes: item.kind === undefined ? [{ barcode: barcodeOf(index) }] : [],
        sellPrice: item.price,
        sellingNotes: item.notes ?? '',
        ...(item.tracking ? { tracking: item.tracking } : {}),
        ...(item.costing ? { costing: item.costing } : {}),
        ...(item.costing === 'standard' ? { standardCost: item.opening?.[1] ?? '0' } : {}),
        ...(item.life ? { shelfLifeDays: String(item.life[0]), restLifeDays: String(item.life[1]) } : {}),
        packs: [...(item.packs ?? [])],
      }),
    );
    if (item.tracking) {
      const [, , useLifeDays = 0, warnDays = 0] = item.life ?? [];
      stores.setTrackingRule(work, id, {
        expiryNeeded: item.life !== undefined,
        madeOnNeeded: false,
        useLifeDays,
        warnDays,
        serialPattern: item.pattern ?? '',
        warrantyMonths: item.warrantyMonths ?? 0,
        version: 0,
      });
    }
    if (item.term) {
      const [supplier, price, leadDays, minimum, multiple] = item.term;
      catalogue.setTerm(
        work,
        id,
        termInput.parse({
          supplierId: idOf(work, 'supplier', supplier),
          supplierItemCode: `${supplier.slice(0, 2)}${4000 + index * 7}`,
          price,
          leadDays,
          minimum,
          multiple,
          preferred: true,
        }),
      );
    }
    if (item.rule) {
      const [source, leadDays, safety] = item.rule;
      const warehouseId = idOf(work, 'warehouse', 'WORKS');
      planning.setRule(work, id, followed({ warehouseId, source, leadDays, safety, slackDays: 2, ...WORKS_RULES[item.code] }));
      const way = ITEM_PLANNING[item.code];
      if (way) planning.setItemPlanning(work, id, { planning: way, version: catalogue.itemView(work, id).version });
    }
    if (item.depot) {
      const rule = {
        warehouseId: idOf(work, 'warehouse', 'DEPOT'),
        source: 'buy',
        leadDays: 0,
        safety: item.depot[0],
        slackDays: 2,
        ...DEPOT_RULES[item.code],
      };
      planning.setRule(work, id, followed(rule.source === 'transfer' ? { ...rule, fromId: idOf(work, 'warehouse', 'WORKS') } : rule));
    }
  });
  for (const [to, from] of EACH_FROM_THE_OTHER.ways) {
    const [warehouseId, fromId] = [idOf(work, 'warehouse', to), idOf(work, 'warehouse', from)];
    planning.setRule(
      work,
      idOf(work, 'item', EACH_FROM_THE_OTHER.item),
      followed({ warehouseId, fromId, source: 'transfer', leadDays: 2, safety: '40' }),
    );
  }
  for (const [parent, lines] of Object.entries(BOMS)) {
    catalogue.setBom(work, idOf(work, 'item', parent), {
      lines: lines.map(([component, quantity, scrap]) => ({
        componentId: idOf(work, 'item', component),
        quantity,
        scrap,
        offsetDays: 0,
        validFrom: null,
        validTo: null,
      })),
    });
  }
}

/** How the house looks on paper, and how its bins are walked by. */
function tellHouse(work: Work): void {
  const { version, currency } = setup.house(work);
  const address = 'Moor Lane 12\nLarkmoor';
  setup.saveHouse(work, {
    company: COMPANY,
    address,
    foot: 'Larkmoor Savings Bank, account 40 117 · Register of Larkmoor 2291',
    currency,
    timeZone: 'UTC',
    version,
  });
  for (const { id } of setup.placesView(work).warehouses) {
    const { bins } = setup.binsView(work, id);
    const shelves = bins.filter(({ dock }) => !dock).map((each) => each.id);
    setup.changeBins(work, id, { bins: shelves, walkFrom: 10, size: 'shelf' });
    setup.changeBins(work, id, { bins: bins.filter(({ dock }) => dock).map((each) => each.id), size: 'floor' });
  }
  // Whoever picks in the depot has their role there only.
  setup.addPerson(work, {
    name: 'Bryn Sedgewick',
    login: 'bryn',
    email: 'bryn@larkmoor.example',
    roles: [
      { roleId: setup.roleCalled(work, standardRoles.packer.name) ?? 0, warehouses: [idOf(work, 'warehouse', 'DEPOT')] },
      { roleId: setup.roleCalled(work, standardRoles.viewer.name) ?? 0, warehouses: null },
    ],
  });
}

/** An order that has nothing yet is held until its customer has paid something. */
function holdOne(work: Work): void {
  const { rows } = selling.listOrders(work, listQuery.parse({ limit: 200 }));
  const found = rows.find(({ state, ready }) => state === 'confirmed' && ready === 'nothing');
  if (found) selling.holdOrder(work, found.id, selling.orderView(work, found.id).version, 'waits for their deposit');
}

/** What the house decided since: small purchases need no approval, a terminal stands in the depot, and the stock is written every night. */
function tellWays(work: Work, dataFolder: string): void {
  setup.saveRules(work, { ...setup.rulesView(work), approvedUpTo: 10_000, priceDifference: 200 });
  setup.addTerminal(work, { name: 'Packing table', warehouseId: idOf(work, 'warehouse', 'DEPOT') });
  const shop = { folder: 'shop', at: '02:00', active: true } as const;
  setup.saveSchedule(work, dataFolder, { ...shop, name: 'Stock for the shop', direction: 'out', kind: 'stock', folder: 'shop/stock' });
  setup.saveSchedule(work, dataFolder, { ...shop, name: 'Customers of the shop', direction: 'in', kind: 'customers', folder: 'shop/customers' });
}

function openStock(work: Work): void {
  const post = (warehouse: string, rows: readonly { code: string; quantity: string; unitCost: string; bin: string }[]): void => {
    const warehouseId = idOf(work, 'warehouse', warehouse);
    stores.adjustStock(work, {
      warehouseId,
      reason: 'OPENING',
      note: `Opening stock, ${work.today}`,
      lines: rows.map((row) => ({
        itemId: idOf(work, 'item', row.code),
        binId: binIdOf(work, warehouse, row.bin),
        change: row.quantity,
        unitCost: row.unitCost,
        pieces: openingPieces(row.code, row.quantity, warehouse, work.today),
      })),
    });
  };
  const bins: Readonly<Record<string, string>> = { MATERIAL: 'A-01', PART: 'A-02', PRODUCT: 'B-01', GOODS: 'B-02', WEAR: 'B-02', TREAT: 'B-02' };
  post(
    'WORKS',
    ITEMS.flatMap((item) =>
      item.opening ? [{ code: item.code, quantity: item.opening[0], unitCost: item.opening[1], bin: bins[item.group] ?? 'A-01' }] : [],
    ),
  );
  post(
    'DEPOT',
    ITEMS.flatMap((item) =>
      item.depot && item.opening ? [{ code: item.code, quantity: item.depot[1], unitCost: item.opening[1], bin: 'F-01' }] : [],
    ),
  );
}

/** Lots and serial numbers that were there before the story begins. */
function openingPieces(code: string, quantity: string, warehouse: string, today: string): PieceInput[] | undefined {
  const item = ITEMS.find((each) => each.code === code);
  if (item?.tracking === 'serial')
    return [
      { serials: `${code.slice(0, 2)}26-${warehouse.slice(0, 1)}01..${code.slice(0, 2)}26-${warehouse.slice(0, 1)}${quantity.padStart(2, '0')}` },
    ];
  if (item?.tracking !== 'lot') return undefined;
  const madeOn = addDays(today, -40);
  return [
    { lot: `${code.slice(0, 4)}-${madeOn.slice(2, 7).replace('-', '')}`, madeOn, ...(item.life ? { expiry: addDays(madeOn, item.life[0]) } : {}) },
  ];
}
