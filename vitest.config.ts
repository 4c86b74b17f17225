import { readFileSync, readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { defineConfig, type Plugin } from 'vitest/config';

const ICONS = '@lucide/angular';

/**
 * The icons are one module of some 1,800 components, which Angular compiles one after the other as it is loaded: longer than
 * all tests of the screens take. Tests get those of them that the application names.
 */
function usedIcons(): Plugin {
  const sources = readdirSync('web/src', { recursive: true, encoding: 'utf8' }).filter((file) => file.endsWith('.ts'));
  const named = sources.flatMap((file) =>
    [...readFileSync(`web/src/${file}`, 'utf8').matchAll(/import \{([^}]+)\} from '@lucide\/angular'/g)].flatMap(([, names = '']) =>
      names.split(',').map((name) => name.trim()),
    ),
  );
  return {
    name: 'used icons',
    enforce: 'pre',
    resolveId: (id) => (id === ICONS ? `\0${ICONS}` : undefined),
    load: (id) => {
      if (id !== `\0${ICONS}`) return undefined;
      const all = readFileSync(createRequire(import.meta.url).resolve(ICONS), 'utf8');
      const used = [...new Set(named)];
      const classes = used.map((name) => {
        const found = new RegExp(`\\nclass ${name} extends LucideIconBase \\{[\\s\\S]*?\\n\\}\\n`).exec(all);
        if (!found) throw new Error(`${ICONS} has no icon ${name} of its own; import it by the name that it has there now.`);
        return found[0];
      });
      return `${all.slice(0, all.search(/\nclass \w+ extends LucideIconBase/))}${classes.join('')}export { ${used.join(', ')} };`;
    },
  };
}

/**
 * Files that need the same share a worker, one after the other: loading the application for each of them anew would take longer than its
 * tests, so that nothing is isolated, and each opens a company of its own.
 */
const shared = { testTimeout: 120_000, hookTimeout: 120_000, isolate: false };

export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      {
        test: {
          ...shared,
          name: 'house',
          include: ['core/src/**/*.spec.ts', 'contract/src/**/*.spec.ts', 'server/src/**/*.spec.ts'],
          sequence: { groupOrder: 0 },
        },
      },
      {
        // With the built command and the demo company, which are there once before.
        test: {
          ...shared,
          name: 'company',
          include: ['demo/src/**/*.spec.ts', 'command/src/**/*.spec.ts'],
          globalSetup: 'scripts/lib/demo-first.mjs',
          sequence: { groupOrder: 1 },
        },
      },
      {
        plugins: [usedIcons()],
        test: { ...shared, name: 'screens', include: ['web/src/app/**/*.spec.ts'], environment: 'jsdom', sequence: { groupOrder: 2 } },
      },
    ],
  },
});
