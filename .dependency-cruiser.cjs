/** Dependencies point one way: core <- cli, server, web; e2e stands outside. */
module.exports = {
  forbidden: [
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
