// Set-up that every command does by itself: packages, the bundle of the server, the built web, the browser. Uses
// nothing but Node.js, since it runs before any package is there.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('../..', import.meta.url));
const stamps = join(root, 'node_modules/.cache/terrace');

function say(text) {
  process.stderr.write(`${text}\n`);
}

function run(command, args, options = {}) {
  const { status } = spawnSync(command, args, { cwd: root, stdio: ['ignore', 2, 2], ...options });
  if (status !== 0) throw new Error(`${command} ${args.join(' ')} ended with ${status}`);
}

// Size and time of every source file: cheap to read, and different after any change.
function fingerprint(folders) {
  const hash = createHash('sha256');
  const visit = (path) => {
    if (!existsSync(path)) return;
    const facts = statSync(path);
    if (!facts.isDirectory()) {
      hash.update(`${path} ${facts.size} ${facts.mtimeMs}\n`);
      return;
    }
    for (const name of readdirSync(path).sort()) if (!['node_modules', 'dist', '.angular'].includes(name)) visit(join(path, name));
  };
  folders.forEach((folder) => visit(join(root, folder)));
  return hash.digest('hex');
}

// What the files of a folder take together.
function sizeOf(folder) {
  return readdirSync(folder, { withFileTypes: true }).reduce((sum, each) => {
    const path = join(folder, each.name);
    if (each.isDirectory()) return sum + sizeOf(path);
    return sum + (each.isFile() ? statSync(path).size : 0);
  }, 0);
}

// How many packages lie in a folder of packages, those within others included.
function countPackages(folder) {
  let count = 0;
  for (const each of readdirSync(folder, { withFileTypes: true })) {
    if (!each.isDirectory() || each.name.startsWith('.')) continue;
    const path = join(folder, each.name);
    if (each.name.startsWith('@')) count += countPackages(path);
    else {
      count += 1;
      if (existsSync(join(path, 'node_modules'))) count += countPackages(join(path, 'node_modules'));
    }
  }
  return count;
}

function onceFor(name, print, produced, make) {
  const stamp = join(stamps, name);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === print && existsSync(join(root, produced))) return;
  make();
  mkdirSync(stamps, { recursive: true });
  writeFileSync(stamp, print);
}

/**
 * Installs the packages that the lock file names: those that build and run Terrace, or with `tools` also those that
 * check and test it. Where the tools are there already, they stay.
 */
export function preparePackages(tested = false) {
  const tools = tested || existsSync(join(root, 'node_modules/vitest/package.json'));
  const print = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  onceFor(tools ? 'packages-and-tools' : 'packages', print, 'node_modules/typescript/package.json', () => {
    say('installing packages: 2 to 4 minutes, the first time and after they have changed …');
    const begun = Date.now();
    run('npm', ['ci', ...(tools ? [] : ['--omit=dev']), '--no-audit', '--no-fund', '--loglevel=error']);
    const megabytes = Math.round(sizeOf(join(root, 'node_modules')) / 2 ** 20);
    say(`${countPackages(join(root, 'node_modules'))} packages installed in ${Math.round((Date.now() - begun) / 1000)} s: ${megabytes} MB`);
  });
}

/** Bundles the command and the server. */
export function prepareServer() {
  preparePackages();
  onceFor('server', fingerprint(['core', 'contract', 'server', 'demo', 'command', 'scripts/lib', 'package-lock.json']), 'dist/terrace.js', () => {
    say('bundling the server: some seconds …');
    run(process.execPath, [join(root, 'scripts/lib/bundle.mjs')]);
  });
}

/** Builds the demo company that tests begin with; it is as it is by the server, which is built with it. */
export function prepareDemo() {
  prepareServer();
  onceFor(
    'demo-of-tests',
    createHash('sha256')
      .update(readFileSync(join(stamps, 'server')))
      .digest('hex'),
    'node_modules/.cache/terrace/demo/terrace.db',
    () => {
      say('building the demo company of the tests: a quarter of a minute …');
      run(process.execPath, [join(root, 'scripts/lib/build-demo.mjs')]);
    },
  );
}

/** Builds the web. */
export function prepareWeb() {
  preparePackages();
  onceFor(
    'web',
    fingerprint(['core/src', 'contract/src', 'web', 'tsconfig.base.json', 'package-lock.json']),
    'web/dist/terrace/browser/index.html',
    () => {
      say('building the web: 1 to 2 minutes …');
      run(process.execPath, [join(root, 'scripts/lib/build-web.mjs'), 'terrace']);
    },
  );
}

/** Builds the page of nothing but the frameworks, against which the first load is measured; it changes with the packages only. */
export function prepareEmptyPage() {
  preparePackages();
  onceFor('empty-page', fingerprint(['web/bench', 'package-lock.json']), 'web/dist/empty/browser/index.html', () =>
    run(process.execPath, [join(root, 'scripts/lib/build-web.mjs'), 'empty']),
  );
}

/** Finds Chromium, installing it where that is possible. */
export function prepareBrowser() {
  const path = '/usr/bin/chromium';
  if (existsSync(path)) return path;
  say('installing Chromium for the browser tests …');
  const asRoot = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  const apt = (...args) =>
    spawnSync(asRoot[0] ?? 'apt-get', [...(asRoot.length > 0 ? [...asRoot.slice(1), 'apt-get'] : []), ...args], {
      stdio: ['ignore', 2, 2],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
  apt('update');
  apt('install', '-y', '--no-install-recommends', 'chromium');
  if (!existsSync(path)) throw new Error('the browser tests need Chromium: install Debian’s package "chromium" and run them again');
  return path;
}
