/** Renders the attachments of queued mail, after the command that queued it and at every start. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Logger } from 'pino';
import type { Actor, Commands } from '../platform/work';
import { outboxFolder, paperOf } from './index';

const POSTMAN: Actor = { id: 0, name: 'outbox', role: 'administrator' };

interface Waiting {
  readonly id: number;
  readonly kind: string;
  readonly documentId: number;
}

let running: Promise<void> = Promise.resolve();

/** Attaches what waits, one mail after the other; a failure is logged and tried again at the next start. */
export function attachPapers(commands: Commands, dataFolder: string, logger: Logger): void {
  running = running.then(async () => {
    if (!commands.store.sqlite.open) return;
    const waiting = commands
      .look(POSTMAN)
      .rows<Waiting>('select id, document_kind as kind, document_id as documentId from mail where attachment is null');
    for (const mail of waiting) {
      try {
        const { name, content } = await paperOf(commands.look(POSTMAN), mail.kind, mail.documentId);
        const folder = outboxFolder(dataFolder);
        mkdirSync(folder, { recursive: true });
        writeFileSync(join(folder, `${mail.id}-${name}`), content);
        await commands.ready();
        if (commands.store.sqlite.open) commands.store.statement('update mail set attachment = ? where id = ?').run(`${mail.id}-${name}`, mail.id);
      } catch (error) {
        logger.error({ err: error, mail: mail.id }, 'attachment not rendered');
      }
    }
  });
}
