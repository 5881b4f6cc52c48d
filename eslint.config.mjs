import next from 'eslint-config-next'
import importX from 'eslint-plugin-import-x'
import { createTypeScriptImportResolver } from 'eslint-import-resolver-typescript'
import tseslint from 'typescript-eslint'

/** Which rooms a room may not import from: imports run one way (docs/contributing.md). */
const core = (room, ...allowed) => ({
  target: `./src/core/${room}`,
  from: './src',
  except: [`./core/${room}`, ...allowed.map((other) => `./core/${other}`)],
  message: `core/${room} may import only ${['itself', ...allowed].join(', ')}`,
})
const room = (name, ...allowed) => ({
  target: `./src/${name}`,
  from: './src',
  except: [`./${name}`, ...allowed.map((other) => `./${other}`)],
  message: `${name} may import only ${['itself', ...allowed].join(', ')}`,
})

/** The survey's rooms from the ground up: each reads only those before it. */
const SURVEY_ROOMS = ['summaries', 'analysis', 'states', 'interpreter', 'codegen', 'findings', 'explicit', 'symbolic']
const surveyRooms = SURVEY_ROOMS.map((name, at) => ({
  target: `./src/core/survey/${name}`,
  from: './src/core/survey',
  except: SURVEY_ROOMS.slice(0, at + 1).map((other) => `./${other}`),
  message: `core/survey/${name} may import only ${SURVEY_ROOMS.slice(0, at + 1).join(', ')}`,
}))

const zones = [
  ...surveyRooms,
  ...['searches', 'survey', 'result'].map((file) => ({
    target: `./src/core/survey/${file}.ts`,
    from: './src/core/survey/questions',
    message: 'questions are asked of a finished survey',
  })),
  core('base'),
  core('expression', 'base'),
  core('story', 'base', 'expression'),
  core('play', 'base', 'expression', 'story'),
  core('survey', 'base', 'expression', 'story', 'play'),
  core('simulate', 'base', 'story', 'play', 'survey'),
  core('contract', 'base', 'expression', 'story', 'formats'),
  core('atlas', 'base', 'story'),
  core('texts', 'base', 'expression', 'story'),
  core('reading', 'base', 'expression', 'story', 'play'),
  core('voices', 'base', 'expression', 'story', 'play', 'survey', 'reading'),
  core('formats', 'base', 'expression', 'story', 'play', 'survey', 'simulate', 'texts', 'reading', 'voices'),
  room('store', 'core'),
  room('workers', 'core'),
  room('live', 'store', 'core'),
  room('accounts', 'store', 'core'),
  room('cli', 'store', 'core'),
  room('session', 'workers', 'core'),
  room('ui'),
  room('views', 'session', 'ui', 'core'),
  room('app', 'views', 'session', 'accounts', 'store', 'ui', 'core'),
  {
    target: './packages/runtime/src',
    from: ['./src/store', './src/workers', './src/cli', './src/session', './src/ui', './src/views', './src/app'],
    message: 'the runtime may import only core',
  },
]

const config = [
  {
    ignores: [
      'node_modules',
      '.next',
      'dist',
      'packages/*/dist',
      'data',
      'coverage',
      'test-results',
      'playwright-report',
      'next-env.d.ts',
    ],
  },
  // what is said about components takes a third of the time, and no other room has any
  ...next.map((one) => ({ ...one, files: ['src/{app,ui,views}/**/*.{ts,tsx}'] })),
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    plugins: { 'import-x': importX },
    settings: {
      'import-x/extensions': ['.ts', '.tsx'],
      'import-x/parsers': { '@typescript-eslint/parser': ['.ts', '.tsx'] },
      'import-x/resolver-next': [createTypeScriptImportResolver()],
    },
    rules: {
      'import-x/no-restricted-paths': ['error', { basePath: import.meta.dirname, zones }],
      'no-restricted-syntax': ['error', { selector: 'ExportAllDeclaration', message: 'name what is exported' }],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      eqeqeq: 'error',
    },
  },
  {
    files: ['src/**/*.{ts,tsx}', 'packages/*/src/**/*.ts', 'test/**/*.ts', 'bench/**/*.ts'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-unnecessary-type-assertion': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { allowDefaultCaseForExhaustiveSwitch: true, considerDefaultExhaustiveForUnions: false },
      ],
    },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'performance', 'fetch'],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random' },
        { object: 'Date', property: 'now' },
      ],
      'no-restricted-imports': [
        'error',
        { patterns: ['node:*', 'react', 'react-dom', 'next', 'next/*', '@chakra-ui/*'] },
      ],
    },
  },
]

export default config
