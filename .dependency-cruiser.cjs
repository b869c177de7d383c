/** The rooms in their order; the drawing of them reads the same. */
const rooms = require('./scripts/rooms.json');

/**
 * The line that imports may cross in one direction only: core ← contract ← server, ui, workers ←
 * app.
 */
const never = (name, from, to, comment) => ({
  name,
  comment,
  severity: 'error',
  from: { path: from },
  to: { path: to },
});

/** Rooms in their order: each uses only those before it. */
const inOrder = (name, base, rooms) =>
  rooms
    .slice(0, -1)
    .map((room, i) =>
      never(
        `${name}-${room}`,
        `^${base}/${room}/`,
        `^${base}/(${rooms.slice(i + 1).join('|')})/`,
        `${room} stands below ${rooms.slice(i + 1).join(', ')}`,
      ),
    );

module.exports = {
  forbidden: [
    never(
      'core-is-alone',
      '^src/core/',
      '^src/(contract|server|ui|workers|app)/',
      'the core knows nothing of the rest',
    ),
    never(
      'contract-between',
      '^src/contract/',
      '^src/(server|ui|workers|app)/',
      'the contract is what both sides take their types from',
    ),
    never(
      'core-is-pure',
      '^src/core/',
      '^(node:|react|next|kysely|pg|graphile)|node_modules/(react|next|kysely|pg|graphile-worker)/',
      'the core runs in Node.js, a worker or a browser',
    ),
    {
      name: 'core-has-no-node',
      severity: 'error',
      from: { path: '^src/core/' },
      to: { dependencyTypes: ['core'] },
    },
    never(
      'server-has-no-interface',
      '^src/server/',
      '^src/(ui|workers|app)/',
      'the server draws nothing',
    ),
    never(
      'ui-asks-over-http',
      '^src/ui/',
      '^src/(server|app)/',
      'the interface talks to the server through routes',
    ),
    never(
      'workers-wrap-the-core',
      '^src/workers/',
      '^src/(server|ui|app)/',
      'workers are thin shells around the core',
    ),
    {
      name: 'no-schemas-in-the-browser',
      comment: 'what is asked is named; the contract gives a browser types only (decision 79)',
      severity: 'error',
      from: { path: '^src/(ui|workers)/' },
      to: {
        path: '^src/contract/',
        pathNot: '^src/contract/(client|ledger)\\.ts$',
        dependencyTypesNot: ['type-only'],
      },
    },
    {
      name: 'no-drawing-in-a-window',
      comment: 'what lays out, draws and judges pieces is for workers and the server (decision 84)',
      severity: 'error',
      from: { path: '^src/ui/' },
      to: {
        path: '^src/core/(artwork/|drawing/pixels|piece/(piece|text|fit-caption|weighing)\\.|grounds/judging/|payload/public-address)',
        pathNot: '^src/core/artwork/font-catalogue\\.ts$',
        dependencyTypesNot: ['type-only'],
      },
    },
    {
      name: 'only-the-reader',
      severity: 'error',
      from: { path: '^src/' },
      to: { path: 'zxing-wasm', pathNot: 'zxing-wasm/dist/(es|cjs)/reader' },
    },
    ...inOrder('core', 'src/core', rooms.core),
    ...inOrder('server', 'src/server', rooms.server),
    ...inOrder('ui', 'src/ui', rooms.ui),
    {
      name: 'server-by-public-files',
      comment:
        'a module of the server is used through its index.ts; works.ts loads only what one work needs, and the table of handlers takes each part of it',
      severity: 'error',
      from: {
        path: '^src/server/([^/]+)/',
        pathNot: ['^src/server/tasks/(works|child)\\.ts$', '^src/server/routes/'],
      },
      to: {
        path: '^src/server/[^/]+/',
        pathNot: ['^src/server/$1/', '^src/server/[^/]+/index\\.ts$'],
      },
    },
    {
      name: 'app-by-public-files',
      comment: 'pages use a module of the server through its index.ts, light routes its handlers',
      severity: 'error',
      from: { path: '^src/app/' },
      to: { path: '^src/server/', pathNot: '^src/server/[^/]+/(index|handlers)\\.ts$' },
    },
    {
      name: 'features-apart',
      comment: 'a feature knows no other; the job is the one that puts the bands together',
      severity: 'error',
      from: { path: '^src/ui/features/([^/]+)/', pathNot: '^src/ui/features/job/' },
      to: { path: '^src/ui/features/', pathNot: '^src/ui/features/$1/' },
    },
    {
      name: 'demo-is-outside',
      comment: 'nothing of the program knows the demo',
      severity: 'error',
      from: { path: '^src/' },
      to: { path: '^demo/' },
    },
    {
      name: 'no-cycles',
      severity: 'error',
      from: { path: '^src/' },
      to: { circular: true },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'node', 'default'],
    },
  },
};
