/** Imports run one way (docs/contributing.md), and never in a circle; those of types count too. */
const folder = (place) => `^src/${place}(/|$)`

/** What files at a place may import of `src`. */
const room = (place, allowed, comment) => ({
  name: `from-${place.replaceAll('/', '-')}`,
  comment,
  severity: 'error',
  from: { path: folder(place) },
  to: { path: '^src/', pathNot: [place, ...allowed].map(folder) },
})
const top = (name, ...allowed) => room(name, allowed, `${name} may import only ${['itself', ...allowed].join(', ')}`)
const core = (name, ...allowed) =>
  room(
    `core/${name}`,
    allowed.map((other) => `core/${other}`),
    `core/${name} may import only ${['itself', ...allowed].join(', ')}`,
  )

/** The survey's rooms from the ground up: each reads only those before it. */
const SURVEY_ROOMS = ['summaries', 'analysis', 'states', 'interpreter', 'codegen', 'findings', 'explicit', 'symbolic']
const surveyRooms = SURVEY_ROOMS.map((name, at) => {
  const before = SURVEY_ROOMS.slice(0, at + 1)
  return {
    name: `from-core-survey-${name}`,
    comment: `core/survey/${name} may import only ${before.join(', ')} of the survey`,
    severity: 'error',
    from: { path: folder(`core/survey/${name}`) },
    to: { path: folder('core/survey'), pathNot: before.map((other) => folder(`core/survey/${other}`)) },
  }
})

/** What sets are made of, and what is played to make them, know nothing of each other, nor of the search over sets. */
const symbolicRooms = ['diagrams', 'paths'].map((name) => ({
  name: `from-core-survey-symbolic-${name}`,
  comment: `core/survey/symbolic/${name} may import only itself of core/survey/symbolic`,
  severity: 'error',
  from: { path: folder(`core/survey/symbolic/${name}`) },
  to: { path: folder('core/survey/symbolic'), pathNot: folder(`core/survey/symbolic/${name}`) },
}))

const config = {
  forbidden: [
    {
      name: 'no-circle',
      comment: 'these files import each other in a circle: cut what they share out into a file of its own',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    ...surveyRooms,
    ...symbolicRooms,
    {
      name: 'questions-come-after',
      comment: 'questions are asked of a finished survey',
      severity: 'error',
      from: { path: '^src/core/survey/(searches|survey|result)\\.ts$' },
      to: { path: folder('core/survey/questions') },
    },
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
    top('store', 'core'),
    top('workers', 'core'),
    top('live', 'store', 'core'),
    top('accounts', 'store', 'core'),
    top('cli', 'store', 'core'),
    top('session', 'workers', 'core'),
    top('ui'),
    top('views', 'session', 'ui', 'core'),
    top('app', 'views', 'session', 'accounts', 'store', 'ui', 'core'),
    {
      name: 'from-runtime',
      comment: 'the runtime may import only core',
      severity: 'error',
      from: { path: '^packages/runtime/src/' },
      to: { path: '^src/(store|workers|cli|session|ui|views|app)(/|$)' },
    },
  ],
  options: {
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: ['node_modules', '\\.next'] },
  },
}

export default config
