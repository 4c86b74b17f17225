/** What Terrace keeps is for the one who runs it: nobody else on the machine may look into its files. */
import { chmodSync, existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { isMainThread } from 'node:worker_threads';

const NOBODY_ELSE = 0o077;

/** Files and folders that are made from now on are for their owner only. */
export function makeForOwner(): void {
  // It is the process's, and threads can't set it.
  if (isMainThread) process.umask(NOBODY_ELSE);
}

/** Makes a folder that was there already, with all that is in it, its owner's. */
export function keepForOwner(folder: string): void {
  if (!existsSync(folder)) return;
  chmodSync(folder, 0o700);
  for (const each of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, each.name);
    if (each.isDirectory()) keepForOwner(path);
    else if (each.isFile()) chmodSync(path, 0o600);
  }
}
