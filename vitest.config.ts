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

export default defineConfig({
  plugins: [usedIcons()],
  test: {
    include: [
      'core/src/**/*.spec.ts',
      'contract/src/**/*.spec.ts',
      'server/src/**/*.spec.ts',
      'demo/src/**/*.spec.ts',
      'command/src/**/*.spec.ts',
      'web/src/app/**/*.spec.ts',
    ],
    testTimeout: 60_000,
    hookTimeout: 60_000,
    maxWorkers: 2,
    // Loading the application for each file anew takes longer than its tests; each opens a company of its own.
    isolate: false,
  },
});
