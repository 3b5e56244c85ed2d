/** The rooms and who may enter which. Arrows never point back; a test may bring the stand-ins and drivers it needs. */
const from = (path, to, comment) => ({
  name: comment.replace(/\W+/g, '-').toLowerCase(),
  comment,
  severity: 'error',
  from: { path },
  to: { path: to },
});

/**
 * The domains of the server, the lower ones first: each may use those named, and the platform. A name that is not in
 * the list above it would close a circle. Rows are read by everybody: `tables` are the model that all share.
 */
const DOMAINS = {
  tables: [],
  letters: [],
  foreign: [],
  'api-description': [],
  live: ['tables'],
  people: ['letters'],
  files: ['tables'],
  slates: ['tables', 'files'],
  order: ['tables'],
  chat: ['tables'],
  destinations: ['tables'],
  schedule: ['tables', 'files'],
  nodes: ['tables', 'live', 'schedule'],
  activity: ['tables', 'nodes'],
  sources: ['tables', 'live', 'schedule', 'nodes', 'activity'],
  boxes: ['tables', 'nodes', 'sources'],
  events: ['tables', 'live', 'files', 'order', 'schedule', 'nodes', 'sources'],
  channels: ['tables', 'events'],
  recordings: ['tables', 'files', 'nodes', 'events'],
  series: ['tables', 'files', 'order', 'schedule', 'events'],
  calendars: ['tables', 'foreign', 'schedule', 'events', 'series'],
  duties: ['tables', 'letters', 'schedule', 'calendars'],
  mornings: ['tables', 'letters', 'schedule', 'events', 'series'],
  house: ['tables', 'letters', 'live', 'files', 'nodes', 'activity', 'sources', 'recordings'],
  'media-link': [
    'tables',
    'live',
    'files',
    'slates',
    'destinations',
    'schedule',
    'nodes',
    'sources',
    'events',
    'recordings',
  ],
  metrics: ['tables', 'live', 'nodes', 'media-link'],
  public: [
    'tables',
    'live',
    'files',
    'order',
    'chat',
    'schedule',
    'nodes',
    'events',
    'recordings',
    'calendars',
    'house',
  ],
  push: ['tables', 'live', 'people', 'chat', 'nodes', 'sources', 'public'],
};

const domainRules = Object.entries(DOMAINS).map(([name, uses], place) => {
  const below = Object.keys(DOMAINS).slice(0, place);
  const above = uses.filter((used) => !below.includes(used));
  if (above.length > 0) throw new Error(`${name} cannot use ${above.join(', ')}, which come after it`);
  const allowed = ['platform', name, ...uses].join('|');
  return from(
    `^apps/server/src/${name}/`,
    `^apps/server/src/(?!(${allowed})/)`,
    `${name} uses ${uses.join(', ') || 'the platform alone'}`,
  );
});

module.exports = {
  forbidden: [
    ...domainRules,
    from(
      '^apps/server/src/',
      `^apps/server/src/(?!(platform|demo|${Object.keys(DOMAINS).join('|')})/)[^/]+/`,
      'every domain of the server stands in the list above',
    ),
    from('^packages/core', '^(apps|packages/contracts)', 'core knows nobody'),
    from('^packages/contracts', '^apps', 'contracts know only core'),
    from('^apps/server/src', '^apps/(?!server)', 'server imports no other process'),
    from('^apps/media/src', '^apps/(?!media)', 'media imports no other process'),
    from('^apps/web/src', '^apps/(?!web)', 'web imports no other process'),
    from('^apps/standins/src', '^apps/(?!standins)', 'stand-ins import no other process'),
    from('^apps/keeper/src', '^apps/(?!keeper)', 'keeper imports no other process'),
    from(
      '^apps/server/src/platform/',
      '^apps/server/src/(?!platform/)',
      'the platform of the server knows no domain',
    ),
    {
      name: 'core-is-pure',
      comment: 'core does no I/O',
      severity: 'error',
      from: { path: '^packages/core/src' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'one-owner-of-child-processes',
      comment: 'the media node starts processes in one place, which knows how they end and what they take',
      severity: 'error',
      from: { path: '^apps/media/src/(?!processes/)' },
      to: { path: '^(node:)?child_process$' },
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
