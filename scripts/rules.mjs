// Holds the rules of .dependency-cruiser.cjs and draws which room asks which, with how many imports: `npm run rules`.
import { createRequire } from 'node:module';
import { cruise } from 'dependency-cruiser';
import extractTSConfig from 'dependency-cruiser/config-utl/extract-ts-config';
import { root } from './lib/prepare.mjs';

process.chdir(root);
const { forbidden, options } = createRequire(import.meta.url)('../.dependency-cruiser.cjs');
const { output } = await cruise(
  ['core', 'contract', 'server', 'web/src', 'demo', 'command'],
  { ...options, validate: true, ruleSet: { forbidden } },
  undefined,
  { tsConfig: extractTSConfig(options.tsConfig.fileName) },
);

/** The room or workspace that a file belongs to. */
function placeOf(file) {
  const within = /^(server\/src|web\/src\/app|core\/src)\/(?:([^/]+)\/)?/.exec(file);
  if (within) return { floor: within[1], room: within[2] ?? '(top)' };
  const workspace = /^(contract|demo|command)\//.exec(file);
  return workspace ? { floor: workspace[1], room: '' } : null;
}

const arrows = new Map();
for (const { source, dependencies } of output.modules) {
  const from = placeOf(source);
  for (const { resolved } of dependencies) {
    const to = placeOf(resolved);
    if (!from || !to || (from.floor === to.floor && from.room === to.room)) continue;
    const head = `${from.floor} ${from.room}`.trim();
    const tail = from.floor === to.floor ? to.room : to.floor.replace('/src', '').replace('/app', '');
    const asked = arrows.get(head) ?? new Map();
    asked.set(tail, (asked.get(tail) ?? 0) + 1);
    arrows.set(head, asked);
  }
}
const width = Math.max(...[...arrows.keys()].map((head) => head.length));
for (const [head, asked] of [...arrows].sort(([a], [b]) => a.localeCompare(b))) {
  const tails = [...asked].sort(([a], [b]) => a.localeCompare(b)).map(([tail, times]) => `${tail} ${times}`);
  process.stdout.write(`${head.padEnd(width)} → ${tails.join(', ')}\n`);
}

const broken = output.summary.violations;
for (const { rule, from, to, cycle } of broken)
  process.stdout.write(`\n${rule.name}: ${from} → ${cycle?.length ? cycle.map(({ name }) => name).join(' → ') : to}\n`);
process.stdout.write(
  `\n${broken.length} of ${forbidden.length} rules broken; ${output.modules.length} files, ${output.summary.totalDependenciesCruised} imports\n`,
);
process.exitCode = broken.length > 0 ? 1 : 0;
