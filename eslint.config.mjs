import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import vue from 'eslint-plugin-vue';
import globals from 'globals';
import ts from 'typescript-eslint';
import { regexRules } from './scripts/lib/regexRules.mjs';

const STORES_OWN = ['AssignmentExpression[left.type="MemberExpression"]', 'UpdateExpression'].map((kind) => ({
  selector: `${kind}[${kind === 'UpdateExpression' ? 'argument' : 'left'}.object.name=/^(club|session|units|light|handOver)$/]`,
  message: 'A store is changed by its own actions.',
}));
// Rules that need no types: the whole tree in a few seconds. Types are the compiler's work.
export default ts.config(
  {
    ignores: [
      '**/node_modules/',
      '**/dist/',
      '.keen/',
      'data/',
      'examples/',
      'coverage/',
      'test-results/',
      'playwright-report/',
    ],
  },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...ts.configs.stylistic,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: ts.parser }, globals: globals.browser },
    rules: {
      'vue/multi-word-component-names': 'off',
      'vue/no-mutating-props': ['error', { shallowOnly: true }],
      'vue/require-default-prop': 'off',
      'vue/component-api-style': ['error', ['script-setup']],
      'no-undef': 'off',
    },
  },
  {
    files: ['**/*.mjs', '**/*.cjs'],
    languageOptions: { globals: globals.node },
    rules: { '@typescript-eslint/no-require-imports': 'off' },
  },
  {
    plugins: { regex: regexRules },
    rules: {
      'regex/no-sign-range': 'error',
      'regex/no-slow-quantifiers': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-explicit-any': 'error',
      'no-console': ['error', { allow: ['error', 'log'] }],
      eqeqeq: 'error',
    },
  },
  {
    // what a store holds is changed by its own actions
    files: ['web/src/**/*.ts', 'web/src/**/*.vue'],
    ignores: ['**/*.test.ts', 'web/src/test/**'],
    rules: { 'no-restricted-syntax': ['error', ...STORES_OWN], 'vue/no-restricted-syntax': ['error', ...STORES_OWN] },
  },
  {
    files: ['web/src/**/*.ts', 'web/src/**/*.vue'],
    ignores: ['**/*.test.ts', 'web/src/test/**', 'web/src/workers/**'],
    rules: {
      // the face of the core holds the registry: one name taken from it brings every calculation into the first screen
      'no-restricted-imports': ['error', { paths: [{ name: '@keen/core', message: 'Import from its areas.' }] }],
    },
  },
  {
    files: ['core/src/**/*.ts', 'contract/src/**/*.ts', 'demo/src/**/*.ts'],
    ignores: ['**/*.test.ts', 'core/src/test/**'],
    rules: {
      // core reads no clock, no chance and no surroundings; what it needs is passed in
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'process',
        'fetch',
        'setTimeout',
        'setInterval',
        'performance',
      ],
      'no-restricted-syntax': [
        'error',
        { selector: "NewExpression[callee.name='Date'][arguments.length=0]", message: 'Pass the time in.' },
        {
          selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']",
          message: 'Pass the time in.',
        },
        {
          selector: "CallExpression[callee.object.name='Math'][callee.property.name='random']",
          message: 'Pass a seeded generator in.',
        },
      ],
    },
  },
  prettier,
);
