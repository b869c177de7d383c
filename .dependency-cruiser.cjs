/** The line that imports may cross in one direction only: core ← server, ui, workers ← app. */
const never = (name, from, to, comment) => ({ name, comment, severity: 'error', from: { path: from }, to: { path: to } });

module.exports = {
  forbidden: [
    never('core-is-alone', '^src/core/', '^src/(server|ui|workers|app)/', 'the core knows nothing of the rest'),
    never(
      'core-is-pure',
      '^src/core/',
      '^(node:|react|next|kysely|pg|graphile)|node_modules/(react|next|kysely|pg|graphile-worker)/',
      'the core runs in Node.js, a worker or a browser',
    ),
    { name: 'core-has-no-node', severity: 'error', from: { path: '^src/core/' }, to: { dependencyTypes: ['core'] } },
    never('server-has-no-interface', '^src/server/', '^src/(ui|workers|app)/', 'the server draws nothing'),
    never('ui-asks-over-http', '^src/ui/', '^src/(server|app)/', 'the interface talks to the server through routes'),
    never('workers-wrap-the-core', '^src/workers/', '^src/(server|ui|app)/', 'workers are thin shells around the core'),
    {
      name: 'only-the-reader',
      severity: 'error',
      from: { path: '^src/' },
      to: { path: 'zxing-wasm', pathNot: 'zxing-wasm/dist/(es|cjs)/reader' },
    },
    {
      name: 'no-cycles',
      severity: 'error',
      from: { path: '^src/' },
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'node', 'default'] },
  },
};
