/**
 * What is global is looked up through the sandbox of each test, which takes fifty times as long as the sum it is asked for:
 * pixels and curves live by this one.
 */
const sandboxInjectedGlobals = ['Math'];

/** Two homes for tests: Node for everything below the screens, jsdom for the screens. */
const mapper = {
  '^@gable/core$': '<rootDir>/core/src/index.ts',
  '^@gable/core/flow$': '<rootDir>/core/src/flow/index.ts',
  '^@gable/core/silhouette$': '<rootDir>/core/src/silhouette/index.ts',
  '^@gable/contract$': '<rootDir>/contract/src/index.ts',
  '^@gable/contract/(\\w+)$': '<rootDir>/contract/src/$1.ts',
  '^@gable/formats$': '<rootDir>/formats/src/index.ts',
  '^@gable/render/([\\w-]+)$': '<rootDir>/render/src/$1.ts',
  '^@gable/render$': '<rootDir>/render/src/index.ts',
};

const node = {
  displayName: 'node',
  testEnvironment: 'node',
  setupFiles: ['<rootDir>/core/tests/seed.ts'],
  testMatch: ['<rootDir>/{core,formats,render,cli,server}/tests/**/*.spec.ts'],
  transform: {
    '^.+\\.m?[jt]s$': [
      '@swc/jest',
      {
        jsc: {
          parser: { syntax: 'typescript', decorators: true },
          target: 'es2022',
          transform: { useDefineForClassFields: false },
        },
        module: { type: 'commonjs' },
      },
    ],
  },
  // These packages ship as ECMAScript modules only.
  transformIgnorePatterns: [
    '/node_modules/(?!(clipper2-ts|flatqueue|mediabunny|d3-contour|d3-array|internmap|culori|pptxtojson|abs-svg-path)/)',
  ],
  moduleNameMapper: mapper,
  sandboxInjectedGlobals,
};

const web = {
  displayName: 'web',
  preset: 'jest-preset-angular',
  testMatch: ['<rootDir>/web/src/**/*.spec.ts'],
  setupFilesAfterEnv: ['<rootDir>/web/src/testing/setup.ts'],
  transform: {
    '^.+\\.(ts|mjs|js|html)$': [
      'jest-preset-angular',
      { tsconfig: '<rootDir>/web/tsconfig.spec.json', stringifyContentPathRegex: '\\.html$' },
    ],
  },
  transformIgnorePatterns: ['node_modules/(?!.*\\.mjs$|lucide|clipper2-ts|flatqueue)'],
  moduleNameMapper: mapper,
  sandboxInjectedGlobals,
};

export default {
  projects: [node, web],
  // Every core tests: each worker has a database of its own.
  maxWorkers: '100%',
  // What tests leave in a worker slows the ones after it tenfold: a fresh one goes on.
  workerIdleMemoryLimit: '600MB',
};
