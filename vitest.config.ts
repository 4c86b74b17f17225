import { readFileSync, readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { constructorParametersDownlevelTransform } from '@angular/compiler-cli/private/tooling';
import ts from 'typescript';
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

/** As the tests' own transform of TypeScript does, with what Angular adds to it. */
const COMPILED: ts.CompilerOptions = {
  target: ts.ScriptTarget.ES2022,
  module: ts.ModuleKind.ESNext,
  experimentalDecorators: true,
  useDefineForClassFields: false,
  isolatedModules: true,
  verbatimModuleSyntax: true,
  noLib: true,
  noResolve: true,
  types: [],
  inlineSourceMap: true,
  inlineSources: true,
};

/**
 * Components with their inputs, outputs and templates, so that tests see what people see: Angular compiles templates while they run, but has to
 * be told of signal inputs before. Styles are left out: nothing is laid out there.
 */
function wholeComponents(): Plugin {
  return {
    name: 'whole components',
    enforce: 'pre',
    transform: (code, id) => {
      if (!/\/web\/src\/app\/.*\.ts$/.test(id) || !/@(Component|Directive)\(/.test(code)) return undefined;
      const said = code
        .replace(/styleUrl: '[^']+',?/g, '')
        .replace(/templateUrl: '([^']+)'/g, (_, name: string) => `template: ${JSON.stringify(readFileSync(join(dirname(id), name), 'utf8'))}`);
      const source = ts.createSourceFile(id, said, ts.ScriptTarget.ES2022, true);
      const host: ts.CompilerHost = {
        getSourceFile: (name) => (name === id ? source : undefined),
        getDefaultLibFileName: () => 'none.d.ts',
        writeFile: () => undefined,
        getCurrentDirectory: () => '/',
        getCanonicalFileName: (name) => name,
        useCaseSensitiveFileNames: () => true,
        getNewLine: () => '\n',
        fileExists: (name) => name === id,
        readFile: () => undefined,
      };
      const program = ts.createProgram([id], COMPILED, host);
      let compiled = '';
      program.emit(source, (_, text) => (compiled = text), undefined, false, { before: [constructorParametersDownlevelTransform(program)] });
      return compiled;
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
          globalSetup: 'scripts/lib/threads-first.mjs',
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
        plugins: [usedIcons(), wholeComponents()],
        test: {
          ...shared,
          name: 'screens',
          include: ['web/src/app/**/*.spec.ts'],
          environment: './web/src/app/testing/one-window.ts',
          sequence: { groupOrder: 2 },
        },
      },
    ],
  },
});
