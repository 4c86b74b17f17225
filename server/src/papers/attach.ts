/** Renders the attachments of queued mail, after the command that queued it and at every start. */
import { mkdirSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Logger } from 'pino';
import type { Commands } from '../platform/commands';
import { isNull } from 'drizzle-orm';
import { isOpen } from '../platform/database-file';
import { query } from '../platform/query';
import { setRow } from '../platform/rows';
import { mail as mailTable } from '../platform/schema';
import { grantsOfRole } from '../platform/grants';
import type { Actor } from '../platform/work';
import type { Drawing } from './drawing';
import { outboxFolder } from '../platform/outbox';
import { paperOf } from './index';

const POSTMAN: Actor = { id: 0, name: 'outbox', grants: grantsOfRole('administrator') };

const waitingMail = query(
  () => (db) =>
    db
      .select({ id: mailTable.id, kind: mailTable.documentKind, documentId: mailTable.documentId })
      .from(mailTable)
      .where(isNull(mailTable.attachment)),
);

let running: Promise<void> = Promise.resolve();

/** Attaches what waits, one mail after the other; a failure is logged and tried again at the next start. */
export function attachPapers(commands: Commands, drawing: Drawing, dataFolder: string, logger: Logger, attached: () => void = () => undefined): void {
  running = running.then(async () => {
    if (!isOpen(commands.store)) return;
    const waiting = waitingMail.all(commands);
    for (const mail of waiting) {
      // What is cut short by the end is rendered at the next start.
      if (drawing.ended) return;
      try {
        const paper = paperOf(commands.look(POSTMAN), mail.kind, mail.documentId);
        const content = await drawing.draw({ do: 'paper', paper });
        const name = `${paper.number}.pdf`;
        const folder = outboxFolder(dataFolder);
        mkdirSync(folder, { recursive: true });
        await writeFile(join(folder, `${mail.id}-${name}`), content);
        await commands.ready();
        if (isOpen(commands.store)) setRow(commands, mailTable, mail.id, { attachment: `${mail.id}-${name}` });
      } catch (error) {
        if (drawing.ended) return;
        logger.error({ err: error, mail: mail.id }, 'attachment not rendered');
      }
    }
    attached();
  });
}
