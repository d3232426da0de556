import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import hooks from 'eslint-plugin-react-hooks'
import refresh from 'eslint-plugin-react-refresh'
import tseslint from 'typescript-eslint'

/** In core, elementary functions are the engine's own, so that results are the same bits on every host. */
const hostMath = [
  'sin',
  'cos',
  'tan',
  'asin',
  'acos',
  'atan',
  'atan2',
  'exp',
  'log',
  'log2',
  'log10',
  'pow',
  'hypot',
  'cbrt',
  'random',
]

/** What takes its time, by the room of core that has it: nothing of this is worked out on the page's main thread. */
const heavy = {
  '': ['checkDocument', 'parseDocument'],
  '/control': ['linearMachine', 'designPoint', 'mechanismPoint'],
  '/letters': ['equationsInLetters', 'linearInLetters', 'mechanismInLetters', 'transferInLetters'],
  '/simulation': ['compile', 'gentleStep', 'modelReport', 'motionEffort', 'predictTrial', 'predictWatched', 'start'],
  '/tuning': [
    'analyse',
    'calmMap',
    'designLoop',
    'findings',
    'mapRange',
    'modelOfLoop',
    'predict',
    'retuned',
    'staleLoops',
    'togetherFigures',
  ],
}

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '.calm-hand/**', 'coverage/**'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      'no-unexpected-multiline': 'error',
      'no-extra-semi': 'off',
    },
  },
  {
    files: ['core/**/*.ts'],
    ignores: ['core/**/*.test.ts', 'core/tests/**'],
    rules: {
      'no-restricted-properties': [
        'error',
        ...hostMath.map((property) => ({
          object: 'Math',
          property,
          message: 'Use the function of core/expression: the host gives other bits.',
        })),
      ],
      'no-restricted-globals': ['error', 'Date', 'performance', 'process', 'window', 'document'],
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks, 'react-refresh': refresh },
    rules: {
      ...hooks.configs.recommended.rules,
      // it speaks of a compiler that does not run here
      'react-hooks/incompatible-library': 'off',
      'react-refresh/only-export-components': 'warn',
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    ignores: ['web/**/*.test.{ts,tsx}', 'web/tests/**', 'web/compute/**', 'web/workers/**'],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          paths: Object.entries(heavy).map(([room, importNames]) => ({
            name: `@calm-hand/core${room}`,
            importNames,
            message: 'The page asks and draws: make it a question of web/compute.',
            allowTypeImports: true,
          })),
        },
      ],
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    ignores: ['web/**/*.test.{ts,tsx}', 'web/tests/**', 'web/vite.config.ts'],
    rules: { 'no-restricted-globals': ['error', 'process', 'Buffer', 'global', 'require', '__dirname'] },
  },
  {
    files: ['scripts/**/*.mjs', 'cli/*.mjs', '*.js', '*.cjs'],
    languageOptions: {
      globals: {
        module: 'writable',
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        setTimeout: 'readonly',
        fetch: 'readonly',
        performance: 'readonly',
      },
    },
  },
  prettier,
)
