const shared = {
  transform: {
    '^.+\\.tsx?$': [
      new URL('scripts/lib/jestTransform.mjs', import.meta.url).pathname,
      {
        jsc: {
          parser: { syntax: 'typescript', tsx: true },
          target: 'es2022',
          experimental: { keepImportAttributes: true },
        },
        module: { type: 'es6' },
      },
    ],
  },
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  testMatch: ['<rootDir>/**/*.test.ts'],
};

export default {
  // The long tests are computation: every core of the machine takes a file.
  maxWorkers: '100%',
  // Of a test that says nothing else: a machine that does other work beside takes several times as long.
  testTimeout: 30_000,
  projects: ['core', 'cli', 'server', 'web', 'scripts'].map((name) => ({
    ...shared,
    displayName: name,
    rootDir: name,
  })),
};
