import boundaries from 'eslint-plugin-boundaries';
import vue from 'eslint-plugin-vue';
import tseslint from 'typescript-eslint';
import vueParser from 'vue-eslint-parser';

// Imports point one way: inside the core in this order, and from the core outwards.
const ROOMS = [
  'math',
  'color',
  'image',
  'formats',
  'scene',
  'geometry',
  'trace',
  'shade',
  'render',
  'frames',
  'predict',
  'diagnose',
  'plan',
  'preflight',
];
const room = (name) => ({ type: `core-${name}`, pattern: `packages/core/src/${name}` });
const outer = (name) => ({ type: name, pattern: `packages/${name}/src` });
const core = ROOMS.map((name) => `core-${name}`);
const policy = (from, allowed) => ({
  from: { element: { type: from } },
  allow: allowed.map((type) => ({ to: { element: { type } } })),
});
const policies = [
  ...core.map((name, i) => policy(name, ['kernel', ...core.slice(0, i + 1)])),
  policy('threads', ['threads', ...core]),
  policy('preview', ['preview', ...core]),
  policy('demo', ['demo', ...core]),
  policy('cli', ['cli', 'threads', ...core]),
  policy('answers', core),
  policy('server', ['server', 'answers', 'threads', 'preview', 'demo', ...core]),
  policy('web', ['web', 'answers', 'preview', ...core]),
];

export default tseslint.config(
  {
    ignores: [
      '**/dist/**',
      '**/dist-test/**',
      'packages/kernel/build/**',
      'packages/kernel/assembly/**',
      'data/**',
      'node_modules/**',
      'packages/server/migrations/**',
    ],
  },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/essential'],
  {
    files: ['**/*.vue'],
    languageOptions: { parser: vueParser, parserOptions: { parser: tseslint.parser, sourceType: 'module' } },
  },
  {
    rules: {
      'vue/multi-word-component-names': 'off',
      '@typescript-eslint/no-empty-function': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
    },
  },
  { files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
  { files: ['**/*.test.ts'], rules: { '@typescript-eslint/no-unused-expressions': 'off' } },
  {
    files: ['packages/*/src/**/*.{ts,vue}'],
    plugins: { boundaries },
    settings: {
      'boundaries/elements': [
        ...ROOMS.map(room),
        { type: 'kernel', pattern: 'packages/kernel' },
        // the types of what the server answers, which the page shares; before the room that holds them
        { type: 'answers', pattern: 'packages/server/src/answers' },
        ...['threads', 'preview', 'demo', 'cli', 'server', 'web'].map(outer),
      ],
      'import/resolver': { [new URL('scripts/lib/importResolver.cjs', import.meta.url).pathname]: {} },
    },
    rules: {
      'boundaries/dependencies': ['error', { default: 'disallow', policies }],
    },
  },
  {
    files: ['packages/core/src/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [{ group: ['node:*', 'fs', 'path', 'os'], message: 'The core has no Node built-ins.' }] },
      ],
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'performance', 'Date', 'setTimeout', 'fetch'],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Every number is a function of its key.' },
      ],
    },
  },
);
