/** Outgoing mail: by a mail server, or kept in the outbox alone. */
import { z } from 'zod';
import { route } from '../base/route';
import { idParams, shortText, version } from '../base/schemas';

const address = z.string().trim().max(200, 'An address has at most 200 characters.');
const fields = {
  /** Kept in the outbox alone, or sent by a mail server. */
  by: z.enum(['outbox', 'smtp']),
  /** Name or address of the mail server. */
  host: z.string().trim().max(200),
  port: z.number().int().min(1, 'A port is 1 at least.').max(65_535, 'A port is 65535 at most.'),
  /** TLS from the first byte, TLS as soon as the server offers it (and only then), or none. */
  security: z.enum(['tls', 'starttls', 'none']),
  /** Whom the server knows; empty where it asks nobody. */
  user: shortText.max(200),
  /** The address that mail comes from, and the name beside it. */
  from: address,
  name: shortText.max(120),
};
const body = z.object({
  ...fields,
  /** Left out, it stays as it is; empty, there is none. */
  password: z.string().max(400).optional(),
  /** As it was seen; left out, whatever there is is changed. */
  version: version.optional(),
});
export type MailSettings = z.output<typeof body>;
const view = z.object({
  ...fields,
  /** Whether a password is kept; it is shown to nobody. */
  hasPassword: z.boolean(),
  version,
  /** Mails that wait to be sent, and those that the server did not take. */
  waiting: z.number().int(),
  failed: z.number().int(),
});
export type MailView = z.output<typeof view>;

export const mailRoutes = {
  mailSettings: route({ method: 'get', path: '/setup/mail', summary: 'How mail leaves', right: 'setup.see', answer: view }),
  saveMailSettings: route({ method: 'put', path: '/setup/mail', summary: 'Say how mail leaves', right: 'setup.edit', body, answer: view }),
  tryMail: route({
    method: 'post',
    path: '/setup/mail/trial',
    summary: 'Send a mail to try it, and say what the mail server answered',
    right: 'setup.edit',
    body: z.object({ to: z.email('Give a mail address.') }),
    answer: z.object({ said: z.string() }),
  }),
  sendAgain: route({
    method: 'post',
    path: '/outbox/:id/send',
    summary: 'Send a mail again that the mail server did not take, or that was only kept',
    right: 'setup.edit',
    params: idParams,
    answer: view,
  }),
};
