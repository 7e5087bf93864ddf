import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

export default ts.config(
  { ignores: ['build/', '.svelte-kit/', 'node_modules/', 'src/lib/api/schema.d.ts'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  { languageOptions: { globals: { ...globals.browser, ...globals.node } } },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: {
      parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig },
    },
  },
  {
    rules: {
      'no-undef': 'off',
      'no-restricted-syntax': [
        'error',
        {
          selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']",
          message: 'The pages have one clock: import now from lib/clock.',
        },
        {
          selector: "NewExpression[callee.name='Date'][arguments.length=0]",
          message: 'The pages have one clock: import now from lib/clock.',
        },
      ],
      // The application lives at the root of its own server; links are plain paths.
      'svelte/no-navigation-without-resolve': 'off',
    },
  },
  { files: ['src/lib/clock.ts', '**/*.test.ts'], rules: { 'no-restricted-syntax': 'off' } },
);
