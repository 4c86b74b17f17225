// The same with 500 orders: the preview, the run, and how long other people's commands wait meanwhile.
import { figure, sized } from './figures.mjs';
import { median, serving } from './serving.mjs';

const ORDERS = sized(500, 40);
const EVERY_MS = 25;
const server = await serving(4392, 8);
const { call } = server;
let keys = 0;
const key = () => `bench-many-${(keys += 1)}`;
const seconds = async (work) => {
  const begun = process.hrtime.bigint();
  await work();
  return Number(process.hrtime.bigint() - begun) / 1e9;
};
const ask = async (method, path, body) => (await call(method, path, body, method === 'GET' ? undefined : key())).json;

try {
  const choices = await ask('GET', '/catalogue/choices');
  const { rows: items } = await ask('GET', '/catalogue/items?limit=40');
  const sold = items.filter(({ kind }) => kind === 'stocked' || kind === undefined).slice(0, 3);
  const customers = choices.customers.filter(({ onHold }) => !onHold);
  await ask('POST', '/stores/adjustments', {
    warehouseId: 1,
    reason: 'FOUND',
    lines: sold.filter(({ tracking }) => (tracking ?? 'none') === 'none').map(({ id }) => ({ itemId: id, binId: 1, change: '900000' })),
  });
  const ids = [];
  for (let at = 0; at < ORDERS; at += 1) {
    const lines = sold.map(({ id }) => ({ itemId: id, quantity: '1' }));
    const order = await ask('POST', '/selling/orders', {
      customerId: customers[at % customers.length].id,
      warehouseId: 1,
      requiredDate: '2027-03-12',
      lines,
    });
    ids.push(order.id);
  }
  // Somebody else enters orders meanwhile: how long each waits.
  const beside = async (work) => {
    const waits = [];
    let on = true;
    const other = (async () => {
      while (on) {
        const lines = [{ itemId: sold[0].id, quantity: '1' }];
        const took = await seconds(() =>
          ask('POST', '/selling/orders', { customerId: customers[0].id, warehouseId: 1, requiredDate: '2027-03-12', lines }),
        );
        waits.push(took * 1000);
        await new Promise((done) => setTimeout(done, EVERY_MS));
      }
    })();
    const took = await seconds(work);
    on = false;
    await other;
    return { took, longest: Math.max(...waits), median: median(waits), commands: waits.length };
  };
  const act = { act: 'confirm' };
  const preview = await beside(async () => {
    const { can } = await ask('POST', '/selling/runs/preview', { act, ids });
    console.log(`\n${ORDERS} orders to be confirmed, three lines each; ${can} can be`);
  });
  let run;
  const done = await beside(async () => {
    run = await ask('POST', '/selling/runs', { act, ids });
    while (run.state === 'running') {
      await new Promise((next) => setTimeout(next, 50));
      run = await ask('GET', `/selling/runs/${run.id}`);
    }
  });
  console.log(`${run.done} done, ${run.refused} refused`);
  figure('many: preview of 500 orders', preview.took, { unit: 's', most: 2 });
  figure('many: 500 orders confirmed', done.took, { unit: 's', most: 20 });
  figure('many: somebody else waits meanwhile, median', done.median, { unit: 'ms', digits: 0 });
  figure('many: somebody else waits meanwhile, the longest', Math.max(preview.longest, done.longest), { unit: 'ms', digits: 0, most: 200 });
} finally {
  await server.stop();
}
