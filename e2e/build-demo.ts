/** Builds the demo company that every file of tests begins with. */
import { sessionOf } from '../scripts/lib/up.mjs';
import { BUILT, startTerrace } from './site';

const PATIENCE_MS = 300_000;
const EVERY_MS = 200;

/** Waits until its mails have their attachments, which each copy would draw anew otherwise. */
async function drawn(url: string): Promise<void> {
  const headers = { 'content-type': 'application/json' };
  const session = await fetch(`${url}/api/session`, { method: 'POST', headers, body: JSON.stringify({ login: 'wilder', password: 'larkmoor' }) });
  const cookie = sessionOf(session);
  for (const until = Date.now() + PATIENCE_MS; Date.now() < until; await new Promise((done) => setTimeout(done, EVERY_MS))) {
    const answer = await fetch(`${url}/api/outbox?limit=500`, { headers: { cookie } });
    const { rows } = (await answer.json()) as { rows: { attachment: string | null }[] };
    if (rows.length > 0 && rows.every(({ attachment }) => attachment !== null)) return;
  }
  throw new Error('the mails of the demo company are not drawn');
}

export default async function buildDemo(): Promise<void> {
  const { url, stop } = await startTerrace(['demo', '--reset'], BUILT, 4390);
  await drawn(url);
  await stop();
}
