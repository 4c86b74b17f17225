// `npm run bench`: figures and ratios, each pair taken in one run on this machine, in one table with those that have landed beside them; the whole
// of it is kept as docs/figures.md. `npm run bench -- orders` runs one bench; `npm run bench -- --short` runs a little of each and fails where a
// ratio or a size is worse than three times its aim.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { cpus, tmpdir, totalmem } from 'node:os';
import { join } from 'node:path';
import { aimOf, textOf, worse } from './bench/figures.mjs';
import { prepareDemo, prepareEmptyPage, prepareServer, prepareWeb, root } from './lib/prepare.mjs';

// What has windows to look at is measured in the long form only.
const WITH_WINDOWS = 'screen';
const BENCHES = ['orders', 'many', 'imports', 'ledger', 'planning', 'screen', 'first-load', 'requests'];
const FAR = 3;
const PAGE = join(root, 'docs/figures.md');

const args = process.argv.slice(2);
const short = args.includes('--short');
const asked = args.filter((each) => !each.startsWith('--'));
for (const each of asked) if (!BENCHES.includes(each)) throw new Error(`there is no bench "${each}": ${BENCHES.join(', ')}`);

prepareServer();
prepareWeb();
prepareDemo();
prepareEmptyPage();

const folder = mkdtempSync(join(tmpdir(), 'terrace-figures-'));
const kept = join(folder, 'figures');
const broken = [];
for (const name of asked.length > 0 ? asked : BENCHES.filter((each) => !short || each !== WITH_WINDOWS)) {
  const begun = Date.now();
  process.stdout.write(`\n── ${name}\n`);
  const env = { ...process.env, BENCH_FIGURES: kept, ...(short ? { BENCH_SHORT: '1' } : {}) };
  const { status } = spawnSync(process.execPath, ['--expose-gc', join(root, 'scripts/bench', `${name}.mjs`)], { cwd: root, stdio: 'inherit', env });
  if (status !== 0) broken.push(name);
  process.stdout.write(`── ${name}: ${Math.round((Date.now() - begun) / 1000)} s\n`);
}
const figures = existsSync(kept)
  ? readFileSync(kept, 'utf8')
      .split('\n')
      .filter((line) => line !== '')
      .map((line) => JSON.parse(line))
  : [];
rmSync(folder, { recursive: true, force: true });

// What the page says that landed last, by name.
function landed() {
  const { status, stdout } = spawnSync('git', ['show', 'HEAD:docs/figures.md'], { cwd: root, encoding: 'utf8' });
  const text = status === 0 ? stdout : existsSync(PAGE) ? readFileSync(PAGE, 'utf8') : '';
  const rows = text.split('\n').filter((line) => line.startsWith('| ') && !line.startsWith('| figure') && !line.startsWith('| ---'));
  return new Map(rows.map((row) => row.split('|').map((cell) => cell.trim())).map(([, name, now, , aim]) => [name, { now, aim }]));
}

const before = landed();
const rows = figures.map((each) => ({ each, now: textOf(each), was: before.get(each.name)?.now ?? '', aim: aimOf(each), off: worse(each) }));
const widths = [0, 0, 0].map((_, at) => Math.max(4, ...rows.map(({ each, now, was }) => [each.name, now, was][at].length)));
process.stdout.write(`\n${'figure'.padEnd(widths[0])}  ${'now'.padStart(widths[1])}  ${'landed'.padStart(widths[2])}  aim\n`);
for (const { each, now, was, aim, off } of rows)
  process.stdout.write(
    `${each.name.padEnd(widths[0])}  ${now.padStart(widths[1])}  ${was.padStart(widths[2])}  ${aim}${off > 1 ? `   ${off.toFixed(2)} × off` : ''}\n`,
  );

if (!short && broken.length === 0) {
  // Where only some were measured, the others stay as they were.
  const table = new Map(asked.length > 0 ? [...before].map(([name, { now, aim }]) => [name, { now, was: now, aim }]) : []);
  for (const { each, now, was, aim } of rows) table.set(each.name, { now, was, aim });
  const said = [...table].map(([name, { now, was, aim }]) => `| ${name} | ${now} | ${was} | ${aim} |`);
  writeFileSync(
    PAGE,
    `# Figures of speed and size

Written by \`npm run bench\`, which measures each pair in one run: the ratios are what counts, milliseconds are those of the machine (${cpus().length} cores,
${(totalmem() / 2 ** 30).toFixed(0)} GiB, Node.js ${process.version}). *Before* is what had landed until then. \`npm run bench -- --short\`, a part of \`npm test\`, measures a little of each
and fails where a ratio or a size is worse than three times its aim.

| figure | now | before | aim |
| --- | --- | --- | --- |
${said.join('\n')}
`,
  );
  spawnSync('npx', ['oxfmt', PAGE], { cwd: root, stdio: 'inherit' });
}

// What the machine's speed decides is no reason to fail: ratios and sizes are.
const OF_THE_MACHINE = ['ms', 's'];
const far = short ? rows.filter(({ each, off }) => !each.long && !OF_THE_MACHINE.includes(each.unit) && off > FAR) : [];
for (const { each, off } of far)
  process.stdout.write(`\nfar from its aim: ${each.name} is ${textOf(each)}, asked ${aimOf(each)}, ${off.toFixed(1)} times off\n`);
for (const name of broken) process.stdout.write(`\nthe bench ${name} did not end well\n`);
if (far.length > 0 || broken.length > 0) process.exit(1);
