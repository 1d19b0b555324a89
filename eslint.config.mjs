import js from '@eslint/js';
import tseslint from 'typescript-eslint';

/** The house of the project: each storey may import from those below it, never upwards. */
const STOREYS = ['core', 'contract', 'formats', 'render', 'cli', 'server', 'web'];
const above = (name) => STOREYS.slice(STOREYS.indexOf(name) + 1).map((s) => `@gable/${s}`);
const noNode = ['node:*'];
const noBrowser = ['window', 'document', 'navigator', 'fetch', 'localStorage', 'OffscreenCanvas'].map((name) => ({
  name,
  message: 'core and formats know no interface and do no input or output.',
}));
const upwards = (name, more = []) => ({
  files: [`${name}/src/**/*.ts`],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          ...above(name).map((group) => ({
            group: [group, `${group}/*`],
            message: `${name} must not import upwards.`,
          })),
          {
            group: [
              '**/core/src/**',
              '**/contract/src/**',
              '**/formats/src/**',
              '**/render/src/**',
              '**/cli/src/**',
              '**/server/src/**',
              '**/web/src/**',
            ],
            message: 'Import another package by its name.',
          },
          ...more,
        ],
      },
    ],
  },
});
const pure = [{ group: noNode, message: 'core and formats do not use Node.' }];

export default tseslint.config(
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      '.cache/**',
      '.angular/**',
      'playwright-report/**',
      'test-results/**',
    ],
  },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  ...tseslint.configs.stylistic,
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/consistent-type-definitions': 'off',
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      'no-console': 'off',
      '@typescript-eslint/prefer-for-of': 'off',
      // A database hands out the keys of JSON in another order than it was given them.
      'no-restricted-syntax': [
        'error',
        {
          selector:
            'BinaryExpression[operator=/^[!=]==?$/] > CallExpression[callee.object.name="JSON"][callee.property.name="stringify"]',
          message: 'Compare data by `equal` of core: the order of keys says nothing.',
        },
        {
          selector:
            'Decorator > CallExpression[callee.name="Component"] > ObjectExpression:not(:has(> Property[key.name="changeDetection"]))',
          message: 'Components are OnPush: their state lies in signals and stores.',
        },
      ],
    },
  },
  upwards('core', [...pure, { group: ['@gable/*'], message: 'core imports no other package of the house.' }]),
  upwards('contract', pure),
  upwards('formats', [...pure, { group: ['@gable/contract'], message: 'formats know no server.' }]),
  upwards('render'),
  upwards('cli'),
  upwards('server', [
    { group: ['@gable/cli', '@gable/cli/*'], message: 'The command line is for people; share through render.' },
  ]),
  upwards('web', [
    {
      group: [
        '@gable/server',
        '@gable/server/*',
        '@gable/cli',
        '@gable/cli/*',
        '@gable/render',
        '@gable/render/*',
        '@gable/formats',
      ],
      message: 'The browser talks to the server by its API.',
    },
  ]),
  {
    files: ['core/src/**/*.ts', 'formats/src/**/*.ts'],
    ignores: ['**/*.spec.ts'],
    rules: { 'no-restricted-globals': ['error', ...noBrowser] },
  },
  {
    files: ['**/*.mjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        setInterval: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
        fetch: 'readonly',
        Buffer: 'readonly',
        AbortSignal: 'readonly',
      },
    },
  },
);
