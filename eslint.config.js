import js from '@eslint/js';
import globals from 'globals';
import jsdoc from 'eslint-plugin-jsdoc';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

const NODE_BUILTINS = ['node:*', 'fs', 'path', 'os', 'child_process', 'worker_threads', 'stream', 'crypto'];

/** Which workspaces each one may import. Arrows run one way. */
const MAY_IMPORT = {
  'packages/core': [],
  'packages/contract': ['core'],
  'packages/specs': ['contract', 'core'],
  'packages/media': ['contract', 'core'],
  'packages/rig': ['contract', 'core', 'media'],
  'apps/cli': ['contract', 'core', 'media', 'specs'],
  'apps/server': ['contract', 'core', 'media', 'specs'],
  'apps/web': ['contract', 'core'],
};
const WORKSPACES = ['contract', 'core', 'media', 'specs', 'rig', 'cli', 'server', 'web'];

const directionRules = Object.entries(MAY_IMPORT).map(([folder, allowed]) => {
  const own = folder.split('/')[1];
  const forbidden = WORKSPACES.filter((w) => w !== own && !allowed.includes(w)).map((w) => `@bevrin/${w}`);
  const pure = folder === 'packages/core' || folder === 'packages/contract';
  return {
    files: [`${folder}/src/**/*.{ts,tsx}`],
    // A test may build its clips with the rig and decode them; what ships may not.
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: forbidden,
              message: `${folder} must not depend on this workspace (see docs/architecture.md).`,
            },
            { group: ['**/packages/*', '**/apps/*'], message: 'Import a workspace by its name.' },
            ...(pure
              ? [{ group: NODE_BUILTINS, message: `${folder} knows no files, network or clock.` }]
              : []),
          ],
        },
      ],
    },
  };
});

/** Names of the browser and of Node.js that core must do without; WebAssembly is in both, and in workers. */
const AMBIENT = [
  ...new Set([
    ...Object.keys(globals.browser),
    ...Object.keys(globals.node),
    'console',
    'Date',
    'setTimeout',
  ]),
].filter((name) => (!(name in globals.builtin) || name === 'Date') && name !== 'WebAssembly');

/** Of React's rules those that look at hooks alone: the others go through each component as its compiler does, half a minute. */
const HOOKS_ALONE = { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' };
const QUICK = process.env.BEVRIN_LINT === 'quick';

export default tseslint.config(
  {
    ignores: ['**/node_modules/**', '**/dist/**', 'var/**', 'media/**', '.cache/**', 'packages/*/kernels/**'],
  },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    languageOptions: { globals: { ...globals.node } },
    linterOptions: { reportUnusedDisableDirectives: QUICK ? 'off' : 'warn' },
  },
  {
    files: ['apps/web/**'],
    languageOptions: { globals: { ...globals.browser } },
    plugins: { 'react-hooks': reactHooks },
    rules: QUICK ? HOOKS_ALONE : reactHooks.configs.flat.recommended.rules,
  },
  {
    rules: {
      '@typescript-eslint/no-unused-expressions': 'off',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/consistent-type-imports': 'error',
      'max-lines': ['error', { max: 340, skipBlankLines: true, skipComments: true }],
      'no-console': ['error', { allow: ['error'] }],
    },
  },
  {
    files: ['packages/*/src/**/*.ts', 'apps/{cli,server}/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: { 'max-lines-per-function': ['error', { max: 60, skipBlankLines: true, skipComments: true }] },
  },
  {
    files: ['apps/web/src/**/*.{ts,tsx}'],
    ignores: ['**/*.test.ts'],
    // A page's markup is long; its logic is not.
    rules: { 'max-lines-per-function': ['error', { max: 140, skipBlankLines: true, skipComments: true }] },
  },
  { files: ['scripts/**', 'apps/cli/**', 'tests/**'], rules: { 'no-console': 'off' } },
  ...directionRules,
  {
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    plugins: { jsdoc },
    rules: {
      // What core exports says what it is: a sentence at least, with units and shapes where it has any.
      'jsdoc/require-jsdoc': [
        'error',
        {
          publicOnly: true,
          enableFixer: false,
          require: { ArrowFunctionExpression: false, ClassDeclaration: true, FunctionDeclaration: true },
          contexts: [
            'ExportNamedDeclaration > VariableDeclaration',
            'ExportNamedDeclaration > TSInterfaceDeclaration',
          ],
        },
      ],
      'no-restricted-globals': ['error', ...AMBIENT],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'core is deterministic: pass a seeded generator.' },
      ],
    },
  },
);
