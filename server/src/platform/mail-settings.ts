/** How mail leaves: by a mail server, or not at all (the outbox keeps it to look at). */
import type { MailSettings } from '@terrace/contract';
import type { Store } from './database';
import { companyOf, settingOf } from './settings';

export const MAIL = 'mail';
/** Apart from the rest, since it goes into no archive and no backup. */
export const MAIL_PASSWORD = 'mail.password';

type Kept = Omit<MailSettings, 'password'>;

export function mailSettings(store: Store): Kept {
  const text = settingOf(store, MAIL);
  const proposed: Kept = { by: 'outbox', host: '', port: 587, security: 'starttls', user: '', from: '', name: companyOf(store) };
  return text === null ? proposed : { ...proposed, ...(JSON.parse(text) as Partial<Kept>) };
}
