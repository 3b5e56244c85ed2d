/** The rooms and who may enter which. Arrows never point back; a test may bring the stand-ins and drivers it needs. */
const from = (path, to, comment) => ({
  name: comment.replace(/\W+/g, '-').toLowerCase(),
  comment,
  severity: 'error',
  from: { path },
  to: { path: to },
});

module.exports = {
  forbidden: [
    from('^packages/core', '^(apps|packages/contracts)', 'core knows nobody'),
    from('^packages/contracts', '^apps', 'contracts know only core'),
    from('^apps/server/src', '^apps/(?!server)', 'server imports no other process'),
    from('^apps/media/src', '^apps/(?!media)', 'media imports no other process'),
    from('^apps/web/src', '^apps/(?!web)', 'web imports no other process'),
    from('^apps/standins/src', '^apps/(?!standins)', 'stand-ins import no other process'),
    from('^apps/keeper/src', '^apps/(?!keeper)', 'keeper imports no other process'),
    {
      name: 'core-is-pure',
      comment: 'core does no I/O',
      severity: 'error',
      from: { path: '^packages/core/src' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'public-pages-carry-no-schemas',
      comment: 'Joi stays out of what viewers load',
      severity: 'error',
      from: { path: '^apps/web/src/(public|player|data)' },
      to: { path: '\\.schema\\.ts$' },
    },
    {
      name: 'public-pages-carry-no-console',
      severity: 'error',
      from: { path: '^apps/web/src/(public|player)' },
      to: { path: '(^apps/web/src/console|node_modules/(radix-ui|react-router|swr))' },
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
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
      extensions: ['.ts', '.tsx', '.js'],
    },
    exclude: { path: '\\.d\\.ts$' },
  },
};
