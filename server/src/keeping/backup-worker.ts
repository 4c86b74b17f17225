/** A backup, made and then opened and checked, in a thread that gives way to whoever answers people. */
import { rmSync, statSync } from 'node:fs';
import { openFile } from '../platform/database';
import { closeAlone } from '../platform/database-file';
import { answering, giveWay, type Answer } from '../platform/threads';
import { backup } from './backup';
import { checkStore } from './check';
import { unseal } from './sealed';

giveWay();

export interface BackupTask {
  readonly dataFolder: string;
  readonly target: string;
  readonly today: string;
  readonly passphrase?: string;
}

export interface BackupMade {
  readonly bytes: number;
  /** Checks that do not hold; none of a good one. */
  readonly wrong: readonly string[];
}

export default function run({ dataFolder, target, today, passphrase }: BackupTask): Promise<Answer<BackupMade>> {
  return answering(async () => {
    await backup(dataFolder, target, passphrase);
    const open = passphrase === undefined ? target : `${target}.open.part`;
    try {
      if (passphrase !== undefined) await unseal(target, open, passphrase);
      const copy = openFile(open, { readonly: true, fileMustExist: true });
      try {
        const wrong = checkStore(copy, today).flatMap(({ holds, check }) => (holds ? [] : [check]));
        return { bytes: statSync(target).size, wrong };
      } finally {
        closeAlone(copy);
      }
    } finally {
      if (open !== target) rmSync(open, { force: true });
    }
  });
}
