import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { ensurePackages, root } from './ensure.mjs'

/** Writes the JSON Schema of the story document, made from the schemas that check it. */

ensurePackages()
const { build } = await import('esbuild')
const outfile = join(root, 'dist', 'schema', 'schema.mjs')
await build({
  entryPoints: [join(root, 'src/core/story/json-schema.ts')],
  outfile,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  logLevel: 'warning',
})
const { storyJsonSchema } = await import(pathToFileURL(outfile).href)
writeFileSync(join(root, 'docs', 'story.schema.json'), `${JSON.stringify(storyJsonSchema(), null, 2)}\n`)
