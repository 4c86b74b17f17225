// Everything that proves Terrace: `npm test`. Does its own set-up and says after each step how long it took.
import { spawnSync } from 'node:child_process';
import { prepareBrowser, preparePackages, prepareServer, prepareWeb, root } from './lib/prepare.mjs';

const begun = Date.now();

function step(name, act) {
  const start = Date.now();
  process.stdout.write(`\n── ${name}\n`);
  act();
  process.stdout.write(`── ${name}: ${((Date.now() - start) / 1000).toFixed(1)} s\n`);
}

function run(command, args, cwd = root) {
  const { status } = spawnSync(command, args, {
    cwd,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, NG_CLI_ANALYTICS: 'false', FORCE_COLOR: '0' },
  });
  if (status !== 0) {
    process.stdout.write(`\nfailed: ${command} ${args.join(' ')} ended with ${status}\n`);
    process.exit(1);
  }
}

const only = process.argv[2];
const steps = {
  packages: () => preparePackages(),
  types: () => run('npx', ['tsc', '-p', 'tsconfig.json', '--noEmit']),
  lint: () => run('npx', ['eslint', '.']),
  format: () => run('npx', ['prettier', '--check', '--log-level', 'warn', '.']),
  rules: () => run('npm', ['run', '-s', 'rules']),
  unused: () => run('npx', ['knip', '--no-config-hints']),
  build: () => {
    prepareServer();
    prepareWeb();
  },
  unit: () => run('npx', ['vitest', 'run']),
  browser: () => {
    prepareBrowser();
    run('npx', ['playwright', 'test', '--config', 'e2e/playwright.config.ts']);
  },
};
for (const [name, act] of Object.entries(steps)) if (only === undefined || only === name || name === 'packages') step(name, act);
process.stdout.write(`\nall of it passed in ${Math.round((Date.now() - begun) / 1000)} s\n`);
