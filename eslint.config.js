import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Raw repositories stay inside the platform: everybody else goes through a house's scope. */
const RAW_DATA = {
  paths: [
    {
      name: 'typeorm',
      importNames: ['DataSource', 'Repository', 'EntityRepository', 'getRepository'],
      message: 'Use HouseScope (platform/database.ts).',
    },
    { name: '@nestjs/typeorm', message: 'Use HouseScope (platform/database.ts).' },
  ],
};

const SENTENCES = 'Sentences stand in a catalogue (apps/web/src/words); ui/Sentence puts elements into one.';

export default tseslint.config(
  { ignores: ['dist/', 'node_modules/', '.data/', 'apps/web/*.html'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { considerDefaultExhaustiveForUnions: true },
      ],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-console': 'error',
    },
  },
  // Decorator metadata needs the class itself at run time, which this rule cannot see.
  {
    files: ['apps/server/**'],
    rules: {
      '@typescript-eslint/consistent-type-imports': [
        'error',
        { prefer: 'type-imports', disallowTypeAnnotations: false },
      ],
    },
  },
  {
    files: ['apps/server/src/**'],
    ignores: [
      'apps/server/src/platform/**',
      'apps/server/src/data-source.ts',
      'apps/server/src/server.ts',
      'apps/server/src/app.module.ts',
    ],
    rules: { 'no-restricted-imports': ['error', RAW_DATA] },
  },
  {
    files: ['apps/web/**'],
    plugins: { 'react-hooks': hooks },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      'no-restricted-syntax': ['error', { selector: 'JSXText[value=/[a-z]\\s+[a-z]/i]', message: SENTENCES }],
    },
  },
  { files: ['apps/keeper/**', 'bench/**', 'tooling/**'], rules: { 'no-console': 'off' } },
);
