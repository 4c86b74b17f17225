/** Mail leaves by a mail server: with its paper, once, and again where the server was away or would not take it. */
import type { AddressInfo } from 'node:net';
import { SMTPServer } from 'smtp-server';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { api, type MailSettings } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

interface Taken {
  readonly from: string;
  readonly to: readonly string[];
  readonly text: string;
}

/** A mail server of the test's own, which takes mail or does as it is told. */
class Post {
  readonly taken: Taken[] = [];
  /** What it says in place of taking a mail. */
  refuses: { readonly code: number; readonly words: string } | null = null;
  private server: SMTPServer | null = null;
  port = 0;

  async open(port = 0): Promise<void> {
    const server = new SMTPServer({
      authOptional: true,
      allowInsecureAuth: true,
      disabledCommands: ['STARTTLS'],
      onAuth: ({ username, password }, _session, done) =>
        password === 'queen bee' ? done(null, { user: username ?? '' }) : done(new Error('The password is wrong')),
      onData: (stream, session, done) => {
        const chunks: Buffer[] = [];
        stream.on('data', (chunk: Buffer) => chunks.push(chunk));
        stream.on('end', () => {
          if (this.refuses) {
            done(Object.assign(new Error(this.refuses.words), { responseCode: this.refuses.code }));
            return;
          }
          const { mailFrom, rcptTo } = session.envelope;
          const from = mailFrom === false ? '' : mailFrom.address;
          this.taken.push({ from, to: rcptTo.map((each) => each.address), text: Buffer.concat(chunks).toString('latin1') });
          done();
        });
      },
    });
    await new Promise<void>((done) => server.listen(port, '127.0.0.1', done));
    this.server = server;
    this.port = (server.server.address() as AddressInfo).port;
  }

  async close(): Promise<void> {
    const { server } = this;
    this.server = null;
    if (server) await new Promise<void>((done) => server.close(done));
  }
}

let company: Company;
let post: Post;
let administrator: Client;
let manager: Client;
const settings = (more: Partial<MailSettings> = {}): MailSettings => ({
  by: 'smtp',
  host: '127.0.0.1',
  port: post.port,
  security: 'none',
  user: '',
  from: 'orders@larkmoor.example',
  name: 'Larkmoor',
  ...more,
});

beforeAll(async () => {
  company = await openCompany();
  administrator = await company.as('administrator');
  manager = await company.as('manager');
});
afterAll(() => company.close());
afterEach(() => post.close());

async function open(more: Partial<MailSettings> = {}): Promise<void> {
  post = new Post();
  await post.open();
  await administrator.call(api.setup.saveMailSettings, { body: settings(more) });
}

/** Sends a purchase order by mail; gives its number. */
async function sendOrder(): Promise<string> {
  const itemId = company.id('item', 'SMOKER');
  const body = { supplierId: 1, warehouseId: 1, lines: [{ itemId, quantity: '4', price: '8', dueDate: '2027-03-20' }] };
  const { id, number, version } = await manager.call(api.buying.createPurchase, { body });
  const approved = await manager.call(api.buying.approvePurchase, { params: { id }, body: { version } });
  await manager.call(api.buying.sendPurchase, { params: { id }, body: { version: approved.version } });
  return number;
}

/** What the mail server has taken of an order; mails of other orders come and go beside. */
const takenOf = (number: string): Taken[] => post.taken.filter(({ text }) => text.includes(`Subject: Purchase order ${number}`));

const mailOf = async (number: string) => {
  const { rows } = await administrator.call(api.platform.outbox, { query: { find: number } });
  return rows[0] ?? { id: 0, state: 'none', said: '' };
};
/** Waits until a mail is in a state; what is drawn and sent beside is asked for again meanwhile. */
async function until(number: string, state: string): Promise<void> {
  await expect.poll(async () => (await mailOf(number)).state, { timeout: 15_000 }).toBe(state);
}

describe('a purchase order by mail', () => {
  it('is kept in the outbox where no mail server is named', async () => {
    post = new Post();
    const number = await sendOrder();
    expect((await mailOf(number)).state).toBe('kept');
  });

  it('leaves with its paper, from the company, and is noted as sent', async () => {
    await open();
    const number = await sendOrder();
    await until(number, 'sent');
    expect(takenOf(number)).toHaveLength(1);
    const [mail] = takenOf(number);
    expect(mail).toMatchObject({ from: 'orders@larkmoor.example' });
    expect(mail?.text).toMatch(new RegExp(`Subject: Purchase order ${number}`));
    expect(mail?.text).toMatch(new RegExp(`filename=${number}\\.pdf`));
    expect(mail?.text).toMatch(/JVBERi0/);
    expect(mail?.text).toMatch(/Message-ID: <\d+\.[0-9a-f]{12}@larkmoor\.example>/);
    await company.terrace.mailer.look();
    expect(takenOf(number)).toHaveLength(1);
    expect((await administrator.refused(api.setup.sendAgain, { params: { id: (await mailOf(number)).id } })).code).toBe('alreadySent');
  });

  it('waits where the server is away, says why, and leaves when somebody sends it again', async () => {
    await open();
    const { port } = post;
    await post.close();
    const number = await sendOrder();
    await expect.poll(async () => (await mailOf(number)).said, { timeout: 15_000 }).toMatch(/ECONNREFUSED/);
    expect((await mailOf(number)).state).toBe('waiting');
    expect((await administrator.call(api.setup.mailSettings)).waiting).toBeGreaterThan(0);
    await post.open(port);
    await administrator.call(api.setup.sendAgain, { params: { id: (await mailOf(number)).id } });
    await until(number, 'sent');
    expect(takenOf(number)).toHaveLength(1);
  });

  it('fails for good where the server says so, and who looks after the company is told', async () => {
    await open();
    post.refuses = { code: 550, words: 'No such mailbox here' };
    const number = await sendOrder();
    await until(number, 'failed');
    expect((await mailOf(number)).said).toMatch(/No such mailbox/);
    post.refuses = { code: 451, words: 'Later' };
    const other = await sendOrder();
    await expect.poll(async () => (await mailOf(other)).said, { timeout: 15_000 }).toMatch(/Later/);
    expect((await mailOf(other)).state).toBe('waiting');
  });
});

describe('the mail server', () => {
  it('is tried before anything depends on it, by its password too', async () => {
    await open({ user: 'larkmoor', password: 'queen bee' });
    expect((await administrator.call(api.setup.tryMail, { body: { to: 'wilder@larkmoor.example' } })).said).toMatch(/^250/);
    expect(post.taken.map(({ to }) => to)).toContainEqual(['wilder@larkmoor.example']);
    const view = await administrator.call(api.setup.saveMailSettings, { body: settings({ user: 'larkmoor', password: 'drone' }) });
    expect(view.hasPassword).toBe(true);
    expect(JSON.stringify(view)).not.toContain('drone');
    expect(await administrator.refused(api.setup.tryMail, { body: { to: 'wilder@larkmoor.example' } })).toMatchObject({ code: 'notSent' });
    expect((await administrator.call(api.setup.saveMailSettings, { body: settings({ password: '' }) })).hasPassword).toBe(false);
  });

  it.each([
    [{ host: '' }, 'needsServer'],
    [{ from: 'larkmoor' }, 'needsSender'],
    [{ host: 'mail.larkmoor.example', user: 'larkmoor' }, 'needsTls'],
  ] as const)('%j is refused', async (more, code) => {
    post = new Post();
    expect((await administrator.refused(api.setup.saveMailSettings, { body: settings({ port: 25, ...more }) })).code).toBe(code);
  });

  it('that offers no TLS gets nothing where TLS was asked for', async () => {
    await open({ security: 'starttls' });
    expect(await administrator.refused(api.setup.tryMail, { body: { to: 'wilder@larkmoor.example' } })).toMatchObject({ code: 'notSent' });
    expect(post.taken).toEqual([]);
  });
});
