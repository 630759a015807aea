import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';

export default ts.config(
  { ignores: ['**/build/', '**/dist/', '**/.svelte-kit/', '**/node_modules/', '.data/', 'web/drizzle/', '**/test-results/'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  prettier,
  ...svelte.configs.prettier,
  { languageOptions: { globals: { ...globals.browser, ...globals.node } } },
  { files: ['**/*.svelte', '**/*.svelte.ts'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    files: ['**/*.ts', '**/*.svelte'],
    rules: {
      // the type checker knows better
      'no-undef': 'off',
      // a blank that must stay is written as an expression
      'svelte/no-useless-mustaches': 'off',
      // sets made and read within one derivation need not be reactive
      'svelte/prefer-svelte-reactivity': 'off'
    }
  },
  {
    files: ['core/src/**/*.ts'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['node:*', '$*', '**/web/**', '**/cli/**'] }] }
  },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true }
      ]
    }
  },
  {
    files: ['**/test/**/*.ts'],
    // chai's assertions are expressions, and a test may take a document apart as it likes
    rules: { '@typescript-eslint/no-unused-expressions': 'off', '@typescript-eslint/no-explicit-any': 'off' }
  },
  { files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off' } }
);
