/** The commands that have to do with a company in a data folder. */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { PASSWORD, PEOPLE, buildDemo, hasCompany } from '@terrace/demo';
import {
  backup,
  checkStore,
  closeFile,
  companyClock,
  companyOf,
  inFolder,
  machineDay,
  openStore,
  openToLook,
  readConfig,
  restore,
  serveFolder,
  settingOf,
  writeArchive,
  type CheckLine,
} from '@terrace/server';
import { Misuse } from './misuse';

const here = dirname(fileURLToPath(import.meta.url));
const root = findRoot(here);
const migrationsFolder = join(root, 'server/migrations');
const webFolder = join(root, 'web/dist/terrace/browser');
const describedIn = join(root, 'dist/openapi.json');

function findRoot(from: string): string {
  return existsSync(join(from, 'server/migrations')) ? from : findRoot(dirname(from));
}

type CompanyCommand = 'demo' | 'serve' | 'migrate' | 'backup' | 'archive' | 'restore' | 'check';

/** Carries out a command of those that have to do with a company; gives its exit code, or -1 where it goes on. */
export async function withCompany(command: CompanyCommand, rest: readonly string[]): Promise<number> {
  const config = readConfig(process.env, root);
  switch (command) {
    case 'demo': {
      const there = hasDemo(config.dataFolder);
      if (rest.includes('--reset') || !there) {
        process.stderr.write('building the demo company: a quarter of a minute …\n');
        // eslint-disable-next-line no-restricted-syntax -- there is no company yet
        const day = machineDay(config.today);
        await inFolder(config.dataFolder, 'the building of the demo company', () => buildDemo(config.dataFolder, migrationsFolder, day));
      }
      await start();
      process.stdout.write(`  Sign in as ${PEOPLE[0]?.login ?? ''} (operations manager), password ${PASSWORD}\n`);
      return -1;
    }
    case 'serve':
      await start();
      return -1;
    case 'migrate':
      await inFolder(config.dataFolder, 'a migration', () => closeFile(openStore(config.dataFolder, migrationsFolder)));
      process.stdout.write('the database is up to date\n');
      return 0;
    case 'backup': {
      const passphrase = process.env['TERRACE_PASSPHRASE'];
      const files = await backup(config.dataFolder, fileOf(rest, command), passphrase);
      const sealed = passphrase === undefined ? '' : ', encrypted';
      process.stdout.write(
        `backed up ${config.dataFolder} to ${fileOf(rest, command)}, with ${files} attached ${files === 1 ? 'file' : 'files'}${sealed}\n`,
      );
      return 0;
    }
    case 'archive': {
      const { rows, tables, attachments } = await writeArchive(config.dataFolder, fileOf(rest, command), new Date().toISOString());
      process.stdout.write(`wrote ${rows} rows of ${tables} tables and ${attachments} attached files to ${fileOf(rest, command)}\n`);
      return 0;
    }
    case 'restore': {
      const restored = await inFolder(config.dataFolder, 'a restore', () =>
        restore(fileOf(rest, command), config.dataFolder, config.today, process.env['TERRACE_PASSPHRASE']),
      );
      const code = report(restored.lines, `restored into ${config.dataFolder}`, 'not restored: the backup is damaged');
      if (restored.kept !== null) process.stdout.write(`what was there before is kept as ${restored.kept}\n`);
      return code;
    }
    case 'check': {
      const store = openToLook(config.dataFolder);
      process.stdout.write(`${companyOf(store)}, in ${config.dataFolder}\n`);
      try {
        return report(checkStore(store, companyClock(store, config.today).today()), 'all is well', 'something is wrong');
      } finally {
        closeFile(store);
      }
    }
  }

  async function start(): Promise<void> {
    await serveFolder(config, { migrationsFolder, webFolder, describedIn }, ({ code }) => {
      const address = `http://${config.host}:${config.port}`;
      process.stdout.write(`\n  Terrace is at ${address}\n`);
      if (code) process.stdout.write(welcome(address, code.code, config.dataFolder));
    });
  }
}

/** What a first-timer needs to know. */
function welcome(address: string, code: string, folder: string): string {
  return `
  There is no company in ${folder} yet.
  Open ${address} in a browser and found yours, with this code:

      ${code}

  It is good for an hour, for five tries and for one company; started again, the server shows a new one.
  To try things first, start the demo company in a folder of its own: TERRACE_DATA=demo-data npm run demo
`;
}

/** Whether a folder has the demo company. It never takes the place of somebody's own. */
function hasDemo(folder: string): boolean {
  if (!hasCompany(folder)) return false;
  const store = openToLook(folder);
  const name = settingOf(store, 'company');
  const isDemo = settingOf(store, 'demoPassword') !== null;
  closeFile(store);
  // A folder in which nobody has founded a company yet is as good as an empty one.
  if (name === null) return false;
  if (!isDemo) throw new Misuse(`${folder} holds ${name}, which is not the demo company: name another folder for that with TERRACE_DATA`);
  return true;
}

function fileOf(rest: readonly string[], command: string): string {
  const [file] = rest;
  if (file === undefined) throw new Misuse(`terrace ${command} needs a file: terrace ${command} FILE`);
  return file;
}

function report(lines: readonly CheckLine[], well: string, wrong: string): number {
  const width = Math.max(...lines.map((line) => line.check.length));
  for (const line of lines) process.stdout.write(`${line.holds ? 'holds' : 'WRONG'}  ${line.check.padEnd(width)}  ${line.detail}\n`);
  const holds = lines.every((line) => line.holds);
  process.stdout.write(`${holds ? well : wrong}\n`);
  return holds ? 0 : 1;
}
