import tseslint from 'typescript-eslint';
import vue from 'eslint-plugin-vue';
import vueParser from 'vue-eslint-parser';
import prettier from 'eslint-config-prettier';

/** Readers of foreign input that are not formats. */
const PARSERS = [
  'packages/core/src/cloud/recipe/index.ts',
  'packages/core/src/cloud/selection/parse.ts',
  'packages/core/src/cloud/finders/index.ts',
  'packages/core/src/frames/mounting.ts',
  'apps/server/src/test/**',
];
/** Objects and lists are written out: a literal spread into a literal only fools the formatter. */
const LITERALS = ['SpreadElement > ObjectExpression', 'SpreadElement > ArrayExpression'].map((selector) => ({
  selector,
  message: 'Write its members out.',
}));
const CASTS = [
  {
    selector: "TSAsExpression > TSAsExpression[typeAnnotation.type='TSUnknownKeyword']",
    message: 'Give it its type where it comes from.',
  },
  { selector: "TSAsExpression[typeAnnotation.type='TSNeverKeyword']", message: 'Give it its type.' },
  { selector: 'TSAnyKeyword', message: 'Give it its type.' },
  {
    selector: "TSTypeReference[typeName.name='Record'] > TSTypeParameterInstantiation > TSUnknownKeyword",
    message: 'Name what it holds; unchecked settings are `Given`.',
  },
];

export default [
  {
    ignores: [
      'dist/',
      'data/',
      'node_modules/',
      '**/*.d.ts',
      '**/*.generated.ts',
      'test-results/',
      'playwright-report/',
    ],
  },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parser: vueParser, parserOptions: { parser: tseslint.parser, sourceType: 'module' } },
    rules: { 'vue/multi-word-component-names': 'off', 'vue/no-restricted-syntax': ['error', ...LITERALS] },
  },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      eqeqeq: 'error',
      'no-console': 'off',
      'no-restricted-syntax': ['error', ...LITERALS],
    },
  },
  {
    // what comes from outside is unknown until a parser has read it; after that types say what it is
    files: ['**/*.ts', '**/*.vue'],
    ignores: ['packages/formats/**', '**/*.test.ts', ...PARSERS],
    rules: { 'no-restricted-syntax': ['error', ...CASTS, ...LITERALS] },
  },
  {
    // the simulator turns and maps by code of its own: a wrong sign shared with placing would cancel
    files: ['packages/site/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          paths: [
            {
              name: '@longheron/core/frames',
              importNames: ['sensorToBody', 'makeLocalMap', 'rotationFromAngles', 'quaternionFromAngles'],
              message: 'The simulator has its own (platform/).',
            },
          ],
        },
      ],
    },
  },
  { files: ['**/*.test.ts'], rules: { '@typescript-eslint/no-unused-expressions': 'off' } },
  prettier,
];
