import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import vue from 'eslint-plugin-vue';
import globals from 'globals';
import ts from 'typescript-eslint';
import house from './eslint/house.js';

export default ts.config(
  { ignores: ['**/dist/**', '**/node_modules/**', 'test-results/**', '.cache/**'] },
  js.configs.recommended,
  ...ts.configs.strict,
  ...vue.configs['flat/recommended'],
  {
    plugins: { house },
    languageOptions: { globals: { ...globals.node } },
    rules: {
      'house/arrows': 'error',
      'house/no-cycle': 'error',
      'no-warning-comments': ['error', { terms: ['prettier-ignore'], location: 'anywhere' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-dynamic-delete': 'off',
      'vue/multi-word-component-names': 'off',
    },
  },
  { files: ['web/**', 'e2e/**'], languageOptions: { globals: { ...globals.browser } } },
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  { files: ['**/*.{ts,vue}'], rules: { 'no-undef': 'off' } },
  {
    files: ['core/src/**/*.ts'],
    rules: {
      'no-restricted-exports': ['error', { restrictDefaultExports: { direct: true } }],
      'no-restricted-globals': ['error', 'window', 'document', 'navigator', 'localStorage'],
    },
  },
  {
    files: ['core/src/**/*.ts', 'web/src/**/*.{ts,vue}', 'server/src/*.ts'],
    ignores: ['**/*.test.ts', '**/test*.ts'],
    rules: { 'house/sentences': 'error' },
  },
  prettier,
);
