import vue from 'eslint-plugin-vue';
import globals from 'globals';
import { STORES } from './scripts/lib/lintRules.mjs';
import * as parser from '@typescript-eslint/parser';

const STORES_OWN = ['AssignmentExpression[left.type="MemberExpression"]', 'UpdateExpression'].map((kind) => ({
  selector: `${kind}[${kind === 'UpdateExpression' ? 'argument' : 'left'}.object.name=/^(${[...STORES].join('|')})$/]`,
  message: 'A store is changed by its own actions.',
}));
// Components alone, and what is Vue's in them. Scripts, those of components too, are held to the rules of .oxlintrc.json.
export default [
  { ignores: ['**/node_modules/', '**/dist/', '.keen/'] },
  ...vue.configs['flat/recommended'].map((c) => ({ ...c, files: ['**/*.vue'] })),
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser }, globals: globals.browser },
    rules: {
      'vue/multi-word-component-names': 'off',
      'vue/no-mutating-props': ['error', { shallowOnly: true }],
      'vue/require-default-prop': 'off',
      'vue/component-api-style': ['error', ['script-setup']],
      // a store is changed by its own actions; what a script does is seen by the other linter
      'vue/no-restricted-syntax': ['error', ...STORES_OWN],
      // form is the formatter's
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/singleline-html-element-content-newline': 'off',
    },
  },
];
