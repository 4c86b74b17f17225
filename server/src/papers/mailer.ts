/**
 * Sends mail by a mail server (SMTP), each with its attachment, one after the other. A mail that the server took is noted as
 * sent; where that note is cut short it is sent once more under the same Message-ID, so that who gets it can tell.
 */
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { and, eq, isNotNull, sql } from 'drizzle-orm';
import type { Transporter } from 'nodemailer';
import type { BodyOf, MailView, api } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import type { Commands } from '../platform/commands';
import type { Store } from '../platform/database';
import { isOpen } from '../platform/database-file';
import { MAIL, MAIL_PASSWORD, mailSettings } from '../platform/mail-settings';
import { outboxFolder } from '../platform/outbox';
import { query } from '../platform/query';
import { orNotFound, setRow } from '../platform/rows';
import { mail } from '../platform/schema';
import { dropSetting, keepSetting, settingOf } from '../platform/settings';
import { assertSeen } from '../platform/versions';
import { NOBODY, type Work } from '../platform/work';

const EVERY_MS = 60_000;
const MINUTE = 60_000;
/** How long is waited after the first try that failed, the second, …; after the last the mail has failed. */
const WAITS = [1, 5, 15, 60, 240, 720].map((minutes) => minutes * MINUTE);
const PATIENCE_MS = 20_000;
const THIS_MACHINE = new Set(['localhost', '127.0.0.1', '::1']);

const toSend = query(
  () => (db) =>
    db
      .select()
      .from(mail)
      .where(and(eq(mail.state, 'waiting'), isNotNull(mail.attachment)))
      .orderBy(mail.id),
);
const counts = query(
  () => (db) =>
    db
      .select({ waiting: sql<number>`coalesce(sum(${mail.state} = 'waiting'), 0)`, failed: sql<number>`coalesce(sum(${mail.state} = 'failed'), 0)` })
      .from(mail),
);
const byId = query(($: { id: number }) => (db) => db.select().from(mail).where(eq(mail.id, $.id)));

/** What a mail server said that will not change by asking again: codes of 500 and more, by its own word. */
function isForGood(error: unknown): boolean {
  return error instanceof Error && 'responseCode' in error && typeof error.responseCode === 'number' && error.responseCode >= 500;
}

function wordsOf(error: unknown): string {
  if (!(error instanceof Error)) return 'unknown';
  const said = 'response' in error && typeof error.response === 'string' ? error.response : error.message;
  return said.slice(0, 300);
}

const VERSION = 'mailVersion';
const versionOf = (store: Store): number => Number(settingOf(store, VERSION) ?? '0');

export class Mailer {
  private running: Promise<void> = Promise.resolve();
  private timer: NodeJS.Timeout | undefined;
  /** When each that failed is tried next. */
  private readonly next = new Map<number, number>();

  constructor(
    private readonly commands: Commands,
    private readonly dataFolder: string,
    private readonly log: (message: string, about: object) => void,
  ) {}

  begin(): void {
    this.timer = setInterval(() => void this.look(), EVERY_MS).unref();
  }

  async close(): Promise<void> {
    clearInterval(this.timer);
    await this.running;
  }

  view(): MailView {
    const { store } = this.commands;
    const { waiting, failed } = counts.one(this.commands) ?? { waiting: 0, failed: 0 };
    return { ...mailSettings(store), hasPassword: settingOf(store, MAIL_PASSWORD) !== null, version: versionOf(store), waiting, failed };
  }

  /** Says how mail leaves. Refuses `needsServer`, `needsSender`, and `needsTls` where a password would go through the net in plain. */
  save(work: Work, { password, version, ...settings }: BodyOf<typeof api.setup.saveMailSettings>): void {
    const before = { version: versionOf(work.store) };
    if (version !== undefined) assertSeen(before, version, 'How mail leaves');
    keepSetting(work.store, VERSION, String(before.version + 1));
    const { by, host, from, security, user } = settings;
    if (by === 'smtp') {
      if (host === '') throw new Refusal('needsServer', 'Name the mail server.', { field: 'host' });
      if (!/^[^\s@]+@[^\s@]+$/.test(from)) throw new Refusal('needsSender', 'Give the address that mail comes from.', { field: 'from' });
      if (security === 'none' && user !== '' && !THIS_MACHINE.has(host))
        throw new Refusal('needsTls', 'Without TLS the password could be read on the way: choose TLS, or a server on this machine.', {
          field: 'security',
        });
    }
    keepSetting(work.store, MAIL, JSON.stringify(settings));
    if (password === '') dropSetting(work.store, MAIL_PASSWORD);
    else if (password !== undefined) keepSetting(work.store, MAIL_PASSWORD, password);
    this.next.clear();
    work.record('setup', 0, by === 'smtp' ? `mail is sent by ${host}:${settings.port} from ${from}` : 'mail is kept in the outbox and not sent');
    work.touch('mail', 0, 'settings');
  }

  private async transport(): Promise<Transporter> {
    const { host, port, security, user } = mailSettings(this.commands.store);
    // Rarely wanted: loaded at its first use.
    const { createTransport } = await import('nodemailer');
    return createTransport({
      host,
      port,
      secure: security === 'tls',
      requireTLS: security === 'starttls',
      ignoreTLS: security === 'none',
      ...(user === '' ? {} : { auth: { user, pass: settingOf(this.commands.store, MAIL_PASSWORD) ?? '' } }),
      connectionTimeout: PATIENCE_MS,
      greetingTimeout: PATIENCE_MS,
      socketTimeout: PATIENCE_MS,
      // Nothing is fetched from elsewhere, whatever stands in a mail.
      disableUrlAccess: true,
    });
  }

  /** Sends one to try it; says what the server answered. Refuses `notSent`. */
  async try(to: string): Promise<string> {
    const { by, from, name } = mailSettings(this.commands.store);
    if (by !== 'smtp') throw new Refusal('notSent', 'Mail is kept in the outbox: name a mail server and save it first.');
    try {
      const transport = await this.transport();
      const { response } = await transport.sendMail({
        from: { name, address: from },
        to,
        subject: `A mail from Terrace, to try it`,
        text: `${name} can send mail from Terrace: you have just read one.`,
      });
      transport.close();
      return response ?? 'It was taken.';
    } catch (error) {
      throw new Refusal('notSent', `The mail server did not take it: ${wordsOf(error)}`);
    }
  }

  /** Sends a mail again that the server did not take, or that was only kept. */
  again(work: Work, id: number): void {
    const found = orNotFound(byId.one(work, { id }), 'mail');
    if (mailSettings(work.store).by !== 'smtp') throw new Refusal('notSent', 'Mail is kept in the outbox: say under Set-up, Mail, how it leaves.');
    if (found.state === 'sent') throw new Refusal('alreadySent', 'The mail server took this mail already.');
    setRow(work, mail, id, { state: 'waiting', tries: 0, said: '' });
    this.next.delete(id);
    work.touch('mail', id, found.subject);
  }

  /** Sends what waits, now; whoever asks meanwhile waits for that. */
  look(): Promise<void> {
    this.running = this.running.then(() => this.sendAll()).catch((error: unknown) => this.log('mail can’t be sent', { err: error }));
    return this.running;
  }

  private async sendAll(): Promise<void> {
    const { commands } = this;
    if (!isOpen(commands.store) || mailSettings(commands.store).by !== 'smtp') return;
    const now = Date.now();
    const due = toSend.all(commands).filter(({ id }) => (this.next.get(id) ?? 0) <= now);
    if (due.length === 0) return;
    const transport = await this.transport();
    for (const each of due) await this.send(transport, each);
    transport.close();
  }

  private async send(transport: Transporter, { id, ...each }: typeof mail.$inferSelect): Promise<void> {
    const { from, name } = mailSettings(this.commands.store);
    const seal = createHash('sha256').update(`${each.at} ${each.documentNumber} ${each.recipient}`).digest('hex').slice(0, 12);
    const file = each.attachment ?? '';
    let after: Partial<typeof mail.$inferInsert>;
    try {
      await transport.sendMail({
        messageId: `<${id}.${seal}@${from.split('@').at(-1) ?? 'terrace'}>`,
        from: { name, address: from },
        to: each.recipient,
        subject: each.subject,
        text: each.body,
        attachments: [{ filename: file.replace(/^\d+-/, ''), path: join(outboxFolder(this.dataFolder), file), contentType: 'application/pdf' }],
      });
      this.next.delete(id);
      after = { state: 'sent', sentAt: this.commands.clock.now(), said: '' };
    } catch (error) {
      const wait = WAITS[each.tries];
      const over = isForGood(error) || wait === undefined;
      if (!over) this.next.set(id, Date.now() + wait);
      after = { state: over ? 'failed' : 'waiting', tries: each.tries + 1, said: wordsOf(error) };
      this.log('a mail was not taken', { mail: id, said: after.said });
    }
    await this.commands.performTogether(NOBODY, (work) => {
      setRow(work, mail, id, after);
      work.touch('mail', id, each.subject);
      if (after.state === 'failed')
        work.notify('keeping', `The mail ${each.subject} to ${each.recipient} could not be sent: ${after.said ?? ''}`, {
          kind: each.documentKind,
          id: each.documentId,
        });
    });
  }
}
