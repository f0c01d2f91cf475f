import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import hooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import ts from 'typescript-eslint';

/** What the core may not touch: it is plain TypeScript over plain data. */
const SHELL_IMPORTS = [
  'node:*',
  'fs',
  'path',
  'react*',
  'express*',
  'drizzle*',
  'pg',
  'chart.js*',
  'zustand',
  '@yundro/*',
];
const NODE_GLOBALS = ['process', 'Buffer', 'require', '__dirname', 'global', 'setImmediate'];
const DOM_GLOBALS = [
  'window',
  'document',
  'navigator',
  'localStorage',
  'fetch',
  'self',
  'performance',
  'console',
  'setTimeout',
  'setInterval',
];

export default ts.config(
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      '.cache/**',
      '.data/**',
      'server/drizzle/**',
      'test-results/**',
      'playwright-report/**',
    ],
  },
  js.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    extends: [...ts.configs.strictTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      // Bracket access keeps what the index signature says: the key may be absent.
      '@typescript-eslint/dot-notation': 'off',
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      'no-console': 'error',
    },
  },
  {
    files: ['core/src/**/*.ts'],
    ignores: ['core/src/**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [{ group: SHELL_IMPORTS, message: 'The core knows no interface, server, database or platform.' }] },
      ],
      'no-restricted-globals': [
        'error',
        ...[...NODE_GLOBALS, ...DOM_GLOBALS].map((name) => ({ name, message: 'The core has neither Node nor DOM.' })),
      ],
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    extends: [hooks.configs.flat['recommended-latest']],
    // The cause of a failure that the page tells of in a sentence.
    rules: { 'no-console': ['error', { allow: ['error'] }] },
  },
  { files: ['**/*.{mjs,cjs,js}'], languageOptions: { globals: globals.node } },
  prettier,
);
