import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { builtFrom, root, run } from './ensure.mjs'

const folder = join(root, 'packages', 'runtime')

/** What games import: under which name, from which file, whose declarations belong to it, in order, and what these take from the main one. */
const ENTRIES = [
  ['index', 'index.ts', ['types', 'error', 'playable', 'playthrough', 'story']],
  ['story', 'from-story.ts', ['from-story']],
  ['live', 'live.ts', ['live'], 'Playthrough'],
]

/** Builds the runtime for games into packages/runtime/dist when its sources have changed; gives that folder. */
export function ensureRuntime() {
  const sources = ['src/core', 'packages/runtime/src', 'scripts/build-runtime.mjs', 'package-lock.json']
  return builtFrom(sources, join(folder, 'dist'), async (dist) => {
    const { build } = await import('esbuild')
    for (const [format, extension] of [
      ['esm', '.js'],
      ['cjs', '.cjs'],
    ])
      await build({
        entryPoints: ENTRIES.map(([out, file]) => ({ out, in: join(folder, 'src', file) })),
        outdir: dist,
        bundle: true,
        minify: true,
        format,
        platform: 'neutral',
        mainFields: ['module', 'main'],
        target: 'es2022',
        outExtension: { '.js': extension },
        legalComments: 'none',
        plugins: [mainBeside(extension)],
        logLevel: 'warning',
      })
    writeDeclarations(dist)
  })
}

/** What is built beside the main entry imports that and has no copy of it. */
function mainBeside(extension) {
  return {
    name: 'main-beside',
    setup: ({ onResolve }) =>
      onResolve({ filter: /^\.\/index$/ }, () => ({ path: `./index${extension}`, external: true })),
  }
}

/** One file of declarations an entry, so that it can be read with any resolution of modules. */
function writeDeclarations(dist) {
  const made = join(tmpdir(), `paper-compass-types-${process.pid}`)
  mkdirSync(made, { recursive: true })
  const options = [
    '--declaration',
    '--emitDeclarationOnly',
    '--noEmit',
    'false',
    '--stripInternal',
    '--incremental',
    'false',
  ]
  const project = join(folder, 'tsconfig.json')
  if (
    run(join(root, 'node_modules', '.bin', 'tsc'), ['-p', project, ...options, '--outDir', made], { quiet: true }) !== 0
  )
    throw new Error("the declarations of the runtime's types could not be made; see above")
  for (const [out, , files, taken] of ENTRIES) {
    const text = files
      .map((file) => readFileSync(join(made, 'packages', 'runtime', 'src', `${file}.d.ts`), 'utf8'))
      .join('\n')
      .replace(/^import [^;]*;\n/gm, '')
      .replace(/^export \{\};\n/gm, '')
    for (const [declared, extension] of [
      ['.d.ts', '.js'],
      ['.d.cts', '.cjs'],
    ]) {
      const first = taken === undefined ? '' : `import type { ${taken} } from './index${extension}'\n`
      writeFileSync(join(dist, `${out}${declared}`), first + text)
    }
  }
  rmSync(made, { recursive: true, force: true })
}

if (process.argv[1] === import.meta.filename) console.log(await ensureRuntime())
