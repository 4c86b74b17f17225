/** The `terrace` command. */
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { costProblem, forecastProblem, planProblem } from '@terrace/contract';
import { Refusal, computeCost, computeForecast, plan } from '@terrace/core';
import { PASSWORD, PEOPLE, buildDemo, hasCompany } from '@terrace/demo';
import {
  backup,
  checkStore,
  closeFile,
  companyOf,
  inFolder,
  openStore,
  openToLook,
  readConfig,
  restore,
  serveFolder,
  settingOf,
  systemClock,
  writeArchive,
  type CheckLine,
} from '@terrace/server';

const here = dirname(fileURLToPath(import.meta.url));
const root = findRoot(here);
const migrationsFolder = join(root, 'server/migrations');
const webFolder = join(root, 'web/dist/terrace/browser');

const USAGE = `terrace <command>

  demo [--reset]   start with the demo company; --reset builds it anew
  serve            start with the company in the data folder; where there is none, it is founded
                   in the browser, by a code that is printed here
  migrate          bring the database up to date and stop
  backup FILE      copy everything into one file, while in use or not;
                   encrypted where TERRACE_PASSPHRASE is set
  archive FILE     write everything as open files into one packed file, while in use or not
  restore FILE     check a backup and put it in place; stop the server first
  check            check everything kept; exit code 1 where something is wrong
  compute plan     plan one problem: JSON on standard input, JSON on standard output
  compute cost     value the moves of one item: JSON in, JSON out; what is refused ends with exit code 2
  compute forecast forecast one item from its history, with the errors of all methods
                   (--lines, with each: one problem a line gives one result a line)

Settings: TERRACE_PORT (4300), TERRACE_HOST (127.0.0.1), TERRACE_DATA (data), TERRACE_TODAY, TERRACE_LOG (info),
          TERRACE_PROXY (reverse proxies that are believed), TERRACE_PASSPHRASE (of backups)`;

/** Ends the command with exit code 2: what was asked makes no sense. */
class Misuse extends Error {}

function findRoot(from: string): string {
  return existsSync(join(from, 'server/migrations')) ? from : findRoot(dirname(from));
}

async function main(): Promise<number> {
  const [command = 'help', ...rest] = process.argv.slice(2);
  const config = readConfig(process.env, root);
  const clock = systemClock(config.today);
  switch (command) {
    case 'demo': {
      const there = hasDemo(config.dataFolder);
      if (rest.includes('--reset') || !there) {
        process.stderr.write('building the demo company …\n');
        await inFolder(config.dataFolder, 'the building of the demo company', () => buildDemo(config.dataFolder, migrationsFolder, clock.today()));
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
      const { rows, tables, attachments } = await writeArchive(config.dataFolder, fileOf(rest, command), clock.now());
      process.stdout.write(`wrote ${rows} rows of ${tables} tables and ${attachments} attached files to ${fileOf(rest, command)}\n`);
      return 0;
    }
    case 'restore': {
      const restored = await inFolder(config.dataFolder, 'a restore', () =>
        restore(fileOf(rest, command), config.dataFolder, clock.today(), process.env['TERRACE_PASSPHRASE']),
      );
      const code = report(restored.lines, `restored into ${config.dataFolder}`, 'not restored: the backup is damaged');
      if (restored.kept !== null) process.stdout.write(`what was there before is kept as ${restored.kept}\n`);
      return code;
    }
    case 'check': {
      const store = openToLook(config.dataFolder);
      process.stdout.write(`${companyOf(store)}, in ${config.dataFolder}\n`);
      try {
        return report(checkStore(store, clock.today()), 'all is well', 'something is wrong');
      } finally {
        closeFile(store);
      }
    }
    case 'compute':
      return compute(rest[0] ?? '', rest.includes('--lines'));
    case 'help':
    case '--help':
      process.stdout.write(`${USAGE}\n`);
      return 0;
    default:
      throw new Misuse(`there is no command "${command}"\n\n${USAGE}`);
  }

  async function start(): Promise<void> {
    await serveFolder(config, { migrationsFolder, webFolder }, ({ code }) => {
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

/** What can be computed: each reads its problem and gives its result. */
const COMPUTATIONS: Readonly<Record<string, (json: unknown, where: string) => object>> = {
  plan: (json, where) => plan(readProblem(planProblem, json, `${where}not a planning problem`)),
  forecast: (json, where) => computeForecast(readProblem(forecastProblem, json, `${where}not a history to forecast from`)),
  cost: (json, where) => computeCost(readProblem(costProblem, json, `${where}not a sequence of moves`)),
};

function compute(name: string, lines: boolean): number {
  const computation = Object.entries(COMPUTATIONS).find(([known]) => known === name)?.[1];
  if (!computation) throw new Misuse(`there is nothing called "${name}" to compute: ${Object.keys(COMPUTATIONS).join(' and ')} can be`);
  const input = readFileSync(0, 'utf8');
  const texts = lines ? input.split('\n').filter((line) => line.trim() !== '') : [input];
  texts.forEach((text, index) => {
    const where = lines ? `line ${index + 1}: ` : '';
    process.stdout.write(`${JSON.stringify(resultOf(computation, text, where), null, lines ? 0 : 1)}\n`);
  });
  return 0;
}

function resultOf(computation: (json: unknown, where: string) => object, text: string, where: string): object {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new Misuse(`${where}not JSON: ${error instanceof Error ? error.message : ''}`);
  }
  try {
    return computation(json, where);
  } catch (error) {
    if (error instanceof Refusal) throw new Misuse(`${where}${error.message}`);
    throw error;
  }
}

interface Shape<T> {
  readonly safeParse: (
    json: unknown,
  ) => { success: true; data: T } | { success: false; error: { issues: readonly { path: readonly PropertyKey[]; message: string }[] } };
}

function readProblem<T>(shape: Shape<T>, json: unknown, wrong: string): T {
  const read = shape.safeParse(json);
  if (read.success) return read.data;
  throw new Misuse(
    `${wrong}: ${read.error.issues
      .slice(0, 5)
      .map((issue) => `${issue.path.join('.') || 'problem'}: ${issue.message}`)
      .join('; ')}`,
  );
}

main().then(
  (code) => {
    if (code >= 0) process.exitCode = code;
  },
  (error: unknown) => {
    process.stderr.write(`terrace: ${error instanceof Error ? error.message : String(error)}\n`);
    process.exitCode = error instanceof Misuse ? 2 : 1;
  },
);
