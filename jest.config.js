// One Jest run a room: `./heliphon test core` and so on. TypeScript is stripped by swc; types are checked apart.
const room = (name, roots) => ({
  displayName: name,
  roots,
  testMatch: ['**/*.spec.ts'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: {
    '^(\\.{1,2}/.*)\\.js$': '$1',
    '^fast-check$': '<rootDir>/tooling/seeded-fast-check.js',
  },
  transform: {
    '^.+\\.tsx?$': [
      '@swc/jest',
      {
        swcrc: false,
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', tsx: false, decorators: true },
          transform: { legacyDecorator: true, decoratorMetadata: true, useDefineForClassFields: false },
        },
      },
    ],
  },
  transformIgnorePatterns: ['/node_modules/(?!@heliphon)'],
});

export default {
  // No verdict: several waits at their patience (tests/patience.ts), one after another.
  testTimeout: 600_000,
  projects: [
    room('core', ['<rootDir>/packages', '<rootDir>/apps/web/test']),
    room('server', ['<rootDir>/apps/server', '<rootDir>/apps/keeper']),
    room('media', ['<rootDir>/apps/media', '<rootDir>/apps/standins']),
    room('faults', ['<rootDir>/tests/faults']),
  ],
};
