/** What a full disk or a kill left half written: it is of no use to anybody, and goes at the next start. */
import { existsSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';

/** Sweeps what ends in ".part", or in what else is said, from a folder. */
export function sweepParts(folder: string, endings = /\.part$/): void {
  if (!existsSync(folder)) return;
  for (const name of readdirSync(folder)) if (endings.test(name)) rmSync(join(folder, name), { force: true });
}
