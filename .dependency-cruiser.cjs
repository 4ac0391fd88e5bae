// The direction of imports (docs and architecture): web, cli, server, demo -> core; inside core one way only.
const core = (name) => `^core/src/${name}/`;
// Each folder may use itself and what stands before it.
const ORDER = [
  'math',
  'issues',
  'units',
  'standards',
  'mesh',
  'outline',
  'clipping',
  'stack',
  'sketch',
  'drawing',
  'cutting',
  'components',
  'records',
  'kernel',
  'reading',
  'envelope',
  'sources',
  'shelf',
  'making',
  'contact',
  'assembly',
  'carrier',
  'trial',
  'handover',
];
const forbidden = ORDER.map((name, i) => ({
  name: `${name}-only-uses-what-stands-before-it`,
  severity: 'error',
  from: { path: core(name) },
  to: { path: ORDER.slice(i + 1).map(core) },
})).filter((rule) => rule.to.path.length > 0);
module.exports = {
  forbidden: [
    ...forbidden,
    { name: 'core-stands-alone', severity: 'error', from: { path: '^core/', pathNot: '\\.test\\.ts$' }, to: { path: '^(web|cli|server|demo|e2e|bench)/' } },
    // Tests may ask those who make test data.
    { name: 'tests-of-the-core-stand-alone', severity: 'error', from: { path: '^core/.*\\.test\\.ts$' }, to: { path: '^(web|cli|server|e2e|bench)/' } },
    { name: 'core-has-no-platform', severity: 'error', from: { path: '^core/src/.*(?<!\\.test|-for-tests)\\.ts$' }, to: { dependencyTypes: ['core'] } },
    { name: 'only-tests-use-what-is-made-for-them', severity: 'error', from: { pathNot: '(\\.test|-for-tests)\\.ts$' }, to: { path: '-for-tests\\.ts$' } },
    // The wild corpus keeps the first one honest: it draws everything anew.
    {
      name: 'wild-corpus-shares-no-shapes',
      severity: 'error',
      from: { path: '^demo/corpus/wild/' },
      to: { path: '^demo/', pathNot: '^demo/corpus/(wild/|pose\\.ts|random\\.ts|corpus-model\\.ts|as-splines\\.ts)' },
    },
    {
      name: 'core-folders-by-their-index',
      severity: 'error',
      from: { path: '^core/src/([^/]+)/' },
      to: { path: '^core/src/([^/]+)/(?!index\\.ts$)', pathNot: '^core/src/$1/' },
    },
    {
      name: 'proof-knows-no-builder',
      severity: 'error',
      from: { path: '^core/src/envelope/proof/.*(?<!\\.test)\\.ts$' },
      to: { path: '^core/src/envelope/(revolved|exact|wrap|plan)/' },
    },
    { name: 'kernel-has-one-door', severity: 'error', from: { pathNot: '^(core/src/kernel|demo|web/src/workers)/' }, to: { path: 'node_modules/replicad' } },
    { name: 'users-by-index', severity: 'error', from: { path: '^(web|cli|server|demo)/' }, to: { path: '^core/src/[^/]+/(?!index\\.ts$)' } },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'default'], extensions: ['.ts', '.tsx', '.mjs', '.js', '.json'] },
  },
};
