const { readFileSync } = require('node:fs');
const { join } = require('node:path');

/** The folders of the core in the order in which docs/architecture.md draws them: each may use those before it. */
const ORDER = [
  ...readFileSync(join(__dirname, 'docs/architecture.md'), 'utf8')
    .split('\ncore/ ')[1]
    .split('\n  testing/')[0]
    .matchAll(/^ {2}([a-z]+)\/ /gm),
].map(([, folder]) => folder);

/** Dependencies point one way: core <- cli, server, web; e2e stands outside. */
module.exports = {
  forbidden: [
    ...ORDER.slice(0, -1).map((folder, k) => ({
      name: `core-order-${folder}`,
      comment: 'A folder of the core uses only those above it in the map of docs/architecture.md, types included.',
      severity: 'error',
      from: { path: `^core/src/${folder}/`, pathNot: '\\.test\\.ts$' },
      to: { path: `^core/src/(${ORDER.slice(k + 1).join('|')})/` },
    })),
    {
      name: 'core-folders-in-the-map',
      comment: 'A folder that the map of docs/architecture.md does not draw has no place in the order.',
      severity: 'error',
      from: { path: '^core/src/' },
      to: { path: '^core/src/[^/]+/', pathNot: `^core/src/(${ORDER.join('|')})/` },
    },
    {
      name: 'core-imports-no-shell',
      severity: 'error',
      from: { path: '^core/' },
      to: { path: '^(cli|server|web|e2e)/|^@yundro/(cli|server|web|e2e)(/|$)' },
    },
    {
      name: 'shells-do-not-import-each-other',
      severity: 'error',
      from: { path: '^(cli|server|web)/' },
      to: { path: '^(cli|server|web|e2e)/|^@yundro/(cli|server|web|e2e)(/|$)', pathNot: '^$1/' },
    },
    {
      name: 'core-by-its-front-door',
      comment: 'Shells use what core/src/index.ts offers.',
      severity: 'error',
      from: { path: '^(cli|server|web)/src' },
      to: { path: '^core/src/', pathNot: '^core/src/index\\.ts$' },
    },
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|node_modules)/' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
  },
};
