/**
 * The arrows of the rooms: web, server, cli → words → core; doors only; core free of anything but arithmetic.
 * The arrows of web stand in biome.json, because the parser used here does not read TSX.
 */
const rooms = ['core', 'words', 'server', 'web', 'cli', 'demo', 'e2e', 'scripts', 'bench'];
const mayImport = {
  core: ['core'],
  // Sentences are made of codes at the edge: nothing that decides reads them.
  words: ['words', 'core'],
  // Backups are the server's; the command line only calls them.
  cli: ['cli', 'core', 'words', 'server'],
  server: ['server', 'core', 'words', 'demo'],
  demo: ['demo', 'core'],
};

export default {
  forbidden: [
    { name: 'no-circle', severity: 'error', from: { pathNot: 'node_modules' }, to: { circular: true } },
    ...Object.entries(mayImport).map(([room, allowed]) => ({
      name: `${room}-arrows`,
      severity: 'error',
      from: { path: `^${room}/`, pathNot: '\\.test\\.tsx?$' },
      to: { path: `^(${rooms.filter((r) => !allowed.includes(r)).join('|')})/` },
    })),
    {
      name: 'core-imports-only-arithmetic',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { pathNot: '^(core/|node_modules/(big\\.js|joi|jsonc-parser|polygon-clipping|saxes)/)' },
    },
    {
      name: 'core-by-the-door',
      severity: 'error',
      from: { path: '^core/([^/]+)/' },
      to: { path: '^core/([^/]+)/', pathNot: ['^core/$1/', '^core/[^/]+/index\\.ts$'] },
    },
    {
      // The judge proves the planner only as long as it shares nothing with it, nor with its model (docs/decisions/0022), but what
      // the formats say of a kind (docs/decisions/0026).
      name: 'judge-apart',
      severity: 'error',
      from: { path: '^core/judge/', pathNot: '\\.test\\.ts$' },
      to: { pathNot: ['^core/judge/', '^core/kinds/index\\.ts$'] },
    },
    {
      name: 'rooms-by-the-door',
      severity: 'error',
      from: { path: '^(words|server|cli|demo|bench|e2e)/' },
      to: { path: '^core/', pathNot: '^core/[^/]+/index\\.ts$' },
    },
    {
      name: 'words-by-the-door',
      severity: 'error',
      from: { pathNot: '^words/' },
      to: { path: '^words/', pathNot: '^words/index\\.ts$' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    parser: 'swc',
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      extensions: ['.ts', '.tsx', '.mjs', '.js'],
      conditionNames: ['import', 'types', 'default'],
    },
  },
};
