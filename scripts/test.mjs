// Everything that proves Terrace: `npm test`. Does its own set-up and says after each step how long it took.
import { spawn } from 'node:child_process';
import { preparePackages, root } from './lib/prepare.mjs';

const begun = Date.now();
const took = [];
const env = { ...process.env, FORCE_COLOR: '0' };
const seconds = (since) => `${((Date.now() - since) / 1000).toFixed(1)} s`;

async function step(name, act) {
  const start = Date.now();
  process.stdout.write(`\n── ${name}\n`);
  await act();
  took.push(`${name} ${seconds(start)}`);
  process.stdout.write(`── ${name}: ${seconds(start)}\n`);
}

// Runs a command; what it says is shown as it comes, or with `quiet` when it has ended, so that two do not talk at once.
function run(command, args, quiet = false) {
  const start = Date.now();
  const child = spawn(command, args, { cwd: root, stdio: ['ignore', quiet ? 'pipe' : 'inherit', quiet ? 'pipe' : 'inherit'], env });
  const said = [];
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => said.push(chunk));
  return new Promise((done, fail) => {
    child.once('error', fail);
    child.once('close', (status) => {
      if (quiet) process.stdout.write(`${Buffer.concat(said).toString()}   ${args.slice(0, 3).join(' ')}: ${seconds(start)}\n`);
      if (status === 0) {
        done();
        return;
      }
      process.stdout.write(`\nfailed: ${command} ${args.join(' ')} ended with ${status}\n`);
      process.exit(1);
    });
  });
}

// What is set up beside the rest.
const setUp = (part) => run(process.execPath, ['scripts/lib/set-up.mjs', part], true);

const only = process.argv[2];
const steps = {
  // The browser comes from elsewhere than the packages: both are fetched at once.
  packages: async () => {
    const browser = only === undefined || only === 'browser' ? setUp('browser') : undefined;
    preparePackages(true);
    await browser;
  },
  // Each is busy with one core and waits for its files now and then: together they take the least.
  checks: () =>
    Promise.all([
      ...(only === undefined ? [setUp('build')] : []),
      (async () => {
        // Types, and the rules that need them, in one pass.
        await run('npx', ['oxlint', '--type-aware', '--type-check', '.'], true);
        await run('npx', ['eslint', '.'], true);
        await run('npx', ['oxfmt', '--check', '.'], true);
        await run('npm', ['run', '-s', 'rules'], true);
        await run('npx', ['knip', '--no-config-hints'], true);
      })(),
    ]),
  build: () => setUp('build'),
  unit: () => run('npx', ['vitest', 'run']),
  browser: () => run('npx', ['playwright', 'test', '--config', 'e2e/playwright.config.ts']),
  benches: () => run(process.execPath, ['scripts/bench.mjs', '--short']),
};
if (only !== undefined && !(only in steps)) throw new Error(`there is no step "${only}": ${Object.keys(steps).join(', ')}`);
for (const [name, act] of Object.entries(steps)) if (only === undefined || only === name || name === 'packages') await step(name, act);
process.stdout.write(`\nall of it passed in ${Math.round((Date.now() - begun) / 1000)} s: ${took.join(', ')}\n`);
