import angular from '@angular-eslint/eslint-plugin';
import angularTemplate from '@angular-eslint/eslint-plugin-template';
import * as templateParser from '@angular-eslint/template-parser';
import * as parser from '@typescript-eslint/parser';

/*
 * The rules of this house, which are said by selectors, and those of templates. None of them needs types, so that this takes seconds. What needs
 * types (and the types themselves) is checked by oxlint: .oxlintrc.json.
 */
const SAYS_SQL =
  '/^\\s*(select\\s.*\\sfrom\\s|insert\\s+(or\\s+\\w+\\s+)?into\\s|update\\s+\\w+\\s+set\\s|delete\\s+from\\s|create\\s+(unique\\s+)?(table|index|view|trigger)\\s|pragma\\s|attach\\s)/is';
const HOLDS_QUERY = '/\\b(select\\s.*\\sfrom\\s|insert\\s+into\\s|delete\\s+from\\s|update\\s+\\w+\\s+set\\s)/is';
const STATEMENT = 'No statement as text: say it with query or command (platform/query.ts).';
const STATEMENTS = [
  { selector: `Literal[value=${SAYS_SQL}]`, message: STATEMENT },
  { selector: `TemplateElement[value.raw=${SAYS_SQL}]`, message: STATEMENT },
  {
    selector: `TaggedTemplateExpression[tag.name='sql'] TemplateElement[value.raw=${HOLDS_QUERY}]`,
    message: 'No query within a template: say it with the builder and put it in (platform/expressions.ts).',
  },
  {
    selector: "TaggedTemplateExpression[tag.name='sql'] CallExpression[callee.property.name='select']",
    message: 'No query within a template: give it a name, and put that in.',
  },
];

// What carries the interface everywhere (docs/screens.md).
const KIT = [
  { selector: 'Element[name="button"]:not(:has(> TextAttribute[name="nz-button"]))', message: 'A button is nz-button.' },
  { selector: 'Element[name=/^(details|progress)$/]', message: 'What folds is t-fold, how far something has come is t-progress.' },
  { selector: 'TextAttribute[name="title"], BoundAttribute[name="title"]', message: 'What is shown when something is pointed at is tTip.' },
];

export default [
  { ignores: ['**/dist/**', '**/node_modules/**', '**/.angular/**', 'web/bench/**', 'scripts/**/*.mjs', '*.cjs', '*.mjs'] },
  { files: ['{server,demo,command}/src/**/*.ts', 'web/src/**/*.ts'], languageOptions: { parser } },
  {
    // Signal forms are still experimental: one folder knows of them, so that another kind can take their place.
    files: ['web/src/**/*.ts'],
    ignores: ['web/src/app/ui/forms/**'],
    rules: {
      'no-restricted-imports': ['error', { paths: [{ name: '@angular/forms/signals', message: 'Forms are those of ui/forms (docs/screens.md).' }] }],
    },
  },
  {
    // Data goes through Drizzle's builder: docs/house.md.
    files: ['server/src/**/*.ts', 'demo/src/**/*.ts', 'command/src/**/*.ts'],
    ignores: ['**/*.spec.ts', 'server/src/testing/**', 'server/src/platform/{database-file,expressions,make-tables}.ts'],
    rules: {
      'no-restricted-syntax': ['error', ...STATEMENTS],
    },
  },
  {
    files: ['server/src/**/*.ts', 'demo/src/**/*.ts', 'command/src/**/*.ts'],
    ignores: ['**/*.spec.ts', 'server/src/testing/**', 'server/src/platform/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...STATEMENTS,
        { selector: "MemberExpression[property.name='sqlite']", message: 'The driver is spoken to by platform/database-file.ts only.' },
        { selector: "MemberExpression[object.name='sql'][property.name='raw']", message: 'Raw SQL only in platform/.' },
        { selector: "CallExpression[callee.property.name='prepare']", message: 'Made ready once by query, command and list.' },
        {
          selector: 'CallExpression[callee.name=/^(dayIn|machineDay)$/]',
          message: 'The day is the company’s: of the work, or of companyClock where there is none.',
        },
      ],
    },
  },
  {
    files: ['web/src/**/*.ts'],
    plugins: { '@angular-eslint': angular },
    processor: angularTemplate.processors['extract-inline-html'],
    rules: {
      ...angular.configs.recommended.rules,
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 't', style: 'kebab-case' }],
      '@angular-eslint/component-class-suffix': 'off',
    },
  },
  {
    files: ['web/src/**/*.html'],
    languageOptions: { parser: templateParser },
    plugins: { '@angular-eslint/template': angularTemplate },
    rules: {
      ...angularTemplate.configs.recommended.rules,
      ...angularTemplate.configs.accessibility.rules,
      '@angular-eslint/template/click-events-have-key-events': 'off',
      '@angular-eslint/template/interactive-supports-focus': 'off',
      '@angular-eslint/template/label-has-associated-control': 'off',
      '@angular-eslint/template/no-autofocus': 'off',
    },
  },
  {
    files: ['web/src/app/**/*.html'],
    rules: { 'no-restricted-syntax': ['error', ...KIT] },
  },
  {
    files: ['web/src/app/**/*.html'],
    ignores: ['web/src/app/ui/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...KIT,
        {
          selector: 'Element[name=/^(select|input|textarea|dialog|table)$/]',
          message: 'Fields, tables and dialogs are those of ui/ (docs/screens.md says which).',
        },
      ],
    },
  },
];
