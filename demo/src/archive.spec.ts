/** The demo company written as one file of open ones, and founded from that in an empty folder: the same to the last figure. */
import { createHash } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { parse } from 'csv-parse/sync';
import yauzl from 'yauzl';
import yazl from 'yazl';
import { api, type AnyRoute } from '@terrace/contract';
import { TODAY, enter, serveDemo, serveFolder, type DemoDesk, type Served } from './testing/desk';

const NEW_PASSWORD = 'drawn combs in autumn';
let first: DemoDesk;
let served: Served;
let second: DemoDesk;
let archive: Buffer;

/** Nothing was founded, and nothing is there. */
const empty = (): void => undefined;

function found(at: Served, content: Buffer, { code = at.code ?? '', login = 'wilder', password = NEW_PASSWORD } = {}): Promise<Response> {
  const form = new FormData();
  form.set('login', login);
  form.set('password', password);
  form.set('file', new Blob([new Uint8Array(content)]), 'company.zip');
  return fetch(`${at.base}/founding/archive`, { method: 'POST', headers: { 'x-founding-code': code }, body: form });
}

const problem = async (answer: Response): Promise<{ status: number; code: string; detail: string }> => {
  const { code, detail } = (await answer.json()) as { code: string; detail: string };
  return { status: answer.status, code, detail };
};

function unpacked(content: Buffer): Promise<Map<string, Buffer>> {
  const parts = new Map<string, Buffer>();
  return new Promise((done, fail) =>
    yauzl.fromBuffer(content, { lazyEntries: true }, (error, zip) => {
      if (error) return fail(error);
      zip.on('end', () => done(parts));
      zip.on('entry', (entry: yauzl.Entry) =>
        zip.openReadStream(entry, (wrong, stream) => {
          if (wrong) return fail(wrong);
          const chunks: Buffer[] = [];
          stream.on('data', (chunk: Buffer) => chunks.push(chunk));
          stream.on('end', () => {
            parts.set(entry.fileName, Buffer.concat(chunks));
            zip.readEntry();
          });
        }),
      );
      zip.readEntry();
    }),
  );
}

async function packed(parts: ReadonlyMap<string, Buffer>): Promise<Buffer> {
  const zip = new yazl.ZipFile();
  for (const [name, content] of parts) zip.addBuffer(content, name);
  zip.end();
  const chunks: Buffer[] = [];
  for await (const chunk of zip.outputStream) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks);
}

beforeAll(async () => {
  first = await enter(await serveDemo(), 'wilder');
  const { archives } = (await (await first.post('/setup/archives', {})).json()) as { archives: { name: string }[] };
  archive = Buffer.from(await (await first.ask(`/setup/archives/${archives[0]?.name ?? ''}`)).arrayBuffer());
  served = await serveFolder(empty);
  const answer = await found(served, archive);
  expect(await answer.text()).toBe('{"login":"wilder"}');
  second = await enter(served, 'wilder', NEW_PASSWORD);
}, 240_000);
afterAll(async () => {
  await first.close();
  await second.close();
});

/** What a list or view is asked for, where that is needed. */
const MORE: Readonly<Record<string, string>> = { worth: `by=item&date=${TODAY}` };
/** They tell of this server, or of what was done in it a moment ago. */
const OWN = new Set([
  'audit',
  'keeping',
  'archives',
  'ownSessions',
  'tokens',
  'welcome',
  'getSession',
  'getPlan',
  'getPlanCopy',
  'listDifferences',
  'terminals',
  'schedules',
]);
/** Who has chosen a password and is signed in: there everybody but the founder begins anew. */
const ofPeople = new Set(['joined', 'sessions', 'lacks', 'state']);
const same = (text: string): unknown => JSON.parse(text, (key: string, value: unknown) => (ofPeople.has(key) ? undefined : value));
const READS = Object.values(api).flatMap((room) =>
  Object.entries(room as Readonly<Record<string, AnyRoute>>)
    .filter(([name, { method, path }]) => method === 'get' && !path.includes(':') && !OWN.has(name))
    .map(([name, { path, query }]) => ({
      name,
      path: `${path}?${'shape' in query && 'limit' in (query.shape as object) ? 'limit=1000&' : ''}${MORE[name] ?? ''}`,
    })),
);

describe('a company founded from an archive', () => {
  it.each(READS)('has the same $name', async ({ path }) => {
    const [before, after] = await Promise.all([first.ask(path), second.ask(path)]);
    const [one, other] = [await before.text(), await after.text()];
    expect(after.status).toBe(before.status);
    expect(same(other)).toEqual(same(one));
  });

  it('lets nobody else in until they have chosen a password', async () => {
    const answer = await fetch(`${served.base}/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ login: 'maren', password: 'larkmoor' }),
    });
    expect(answer.status).toBe(401);
  });

  it('is founded once', async () => {
    expect(await problem(await found(served, archive))).toMatchObject({ status: 422, code: 'founded' });
  });
});

describe('an archive', () => {
  it('is of open files: figures as people write them, nothing that lets anybody in', async () => {
    const parts = await unpacked(archive);
    const read = (name: string): Record<string, string>[] => parse(parts.get(`tables/${name}.csv`) ?? '', { columns: true });
    expect(read('unit').map(({ code }) => code)).toContain('each');
    const smoker = read('item').find(({ code }) => code === 'SMOKER');
    expect(Number(smoker?.['sell_price'])).toBeGreaterThan(1);
    expect(smoker?.['sell_price']).toMatch(/^\d+(\.\d+)?$/);
    expect(read('user').every((person) => person['password_hash'] === '')).toBe(true);
    expect([...parts.keys()].some((name) => /session|token|invitation/.test(name))).toBe(false);
    const settings = JSON.parse((parts.get('settings.json') ?? '').toString()) as Record<string, string>;
    expect(settings).not.toHaveProperty('sessionSecret');
    expect(settings['company']).toBe('Larkmoor Apiary Works');
  });

  /** What is done to one, and what is said of it. */
  const SPOILT: readonly (readonly [string, (parts: Map<string, Buffer>) => void, RegExp])[] = [
    [
      'a changed figure',
      (parts) => parts.set('tables/balance.csv', Buffer.from(`${(parts.get('tables/balance.csv') ?? '').toString()}9\n`)),
      /balance\.csv was changed/,
    ],
    ['a missing table', (parts) => void parts.delete('tables/bin.csv'), /bin\.csv is named in the manifest, and missing/],
    ['no manifest', (parts) => void parts.delete('manifest.json'), /no archive of Terrace/],
    [
      'a table that leads out of the folder',
      (parts) => parts.set('manifest.json', Buffer.from((parts.get('manifest.json') ?? '').toString().replace('tables/bin.csv', '../bin.csv'))),
      /do not have the names/,
    ],
    [
      'tables of another release',
      (parts) => parts.set('manifest.json', Buffer.from((parts.get('manifest.json') ?? '').toString().replace(/"shape": \d+/, '"shape": 1'))),
      /another release/,
    ],
  ];
  /** Where nothing is founded yet, and nothing must be after all that is tried. */
  let server: Served;
  beforeAll(async () => {
    server = await serveFolder(empty);
  });
  afterAll(() => server.close());
  const isFounded = async (): Promise<boolean> => ((await (await fetch(`${server.base}/session/welcome`)).json()) as { founded: boolean }).founded;

  it.each(SPOILT)('with %s is refused, and nothing is founded', async (_what, spoil, words) => {
    const parts = await unpacked(archive);
    spoil(parts);
    expect((await problem(await found(server, await packed(parts)))).detail).toMatch(words);
    expect(await isFounded()).toBe(false);
  });

  it('whose figures do not hold together is refused, though every checksum is right; the folder is as good as before', async () => {
    const parts = await unpacked(archive);
    const table = (parts.get('tables/balance.csv') ?? '').toString().split('\n');
    table.splice(1, 1);
    const content = Buffer.from(table.join('\n'));
    parts.set('tables/balance.csv', content);
    const manifest = JSON.parse((parts.get('manifest.json') ?? '').toString()) as { tables: { name: string; rows: number; sha256: string }[] };
    for (const each of manifest.tables.filter(({ name }) => name === 'balance')) {
      each.rows -= 1;
      each.sha256 = createHash('sha256').update(content).digest('hex');
    }
    parts.set('manifest.json', Buffer.from(JSON.stringify(manifest)));
    expect(await problem(await found(server, await packed(parts)))).toMatchObject({
      code: 'unreadable',
      detail: expect.stringMatching(/does not hold together/) as string,
    });
    expect(await isFounded()).toBe(false);
    expect((await found(server, archive)).status).toBe(200);
  });

  it('needs the code of the console, and the name of its administrator', async () => {
    const fresh = await serveFolder(empty);
    expect(await problem(await found(fresh, archive, { code: 'AAAA-AAAA' }))).toMatchObject({ code: 'wrongCode' });
    expect(await problem(await found(fresh, archive, { login: 'tobin' }))).toMatchObject({ code: 'notTheirs' });
    expect(await problem(await found(fresh, archive, { password: 'password12' }))).toMatchObject({ code: 'weakPassword' });
    expect(await problem(await found(fresh, Buffer.from('PK')))).toMatchObject({ code: 'unreadable' });
    await fresh.close();
  });
});
