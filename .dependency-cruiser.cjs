/** The rooms and who may enter them (docs/decisions/0001-rooms.md). */
module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true, dependencyTypesNot: ['type-only'] } },
    {
      name: 'core-stands-alone',
      comment:
        'core is pure: none of our other rooms, no Node, and from outside only what reads schemas, XML, tables and archives, and what searches sorted lists and fits curves',
      severity: 'error',
      from: { path: '^core/src', pathNot: '\\.test\\.ts$' },
      to: {
        pathNot: ['^core/', 'node_modules/(zod|saxes|papaparse|@noble/hashes|fflate|crc-32|d3-array|escape-html|ml-levenberg-marquardt)/'],
      },
    },
    { name: 'media-uses-core-only', severity: 'error', from: { path: '^media/src' }, to: { path: '^(app|cli|demo|e2e|bench)/' } },
    { name: 'nothing-imports-app', severity: 'error', from: { pathNot: '^(app|e2e)/' }, to: { path: '^app/' } },
    { name: 'islands-ask-the-server', severity: 'error', from: { path: '^app/src/islands' }, to: { path: '^(app/src/server|media)/' } },
    {
      name: 'contract-is-shared',
      severity: 'error',
      from: { path: '^app/src/contract' },
      to: { path: '^(app/src/(server|islands)|media)/' },
    },
    { name: 'public-faces-only', severity: 'error', from: { path: '^(media|app|cli|demo)/' }, to: { path: '^core/src/[^/]+/(?!index)' } },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(dist|\\.astro)/' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'node', 'default'] },
  },
};
