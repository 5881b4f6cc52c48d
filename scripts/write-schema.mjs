import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { bundle } from './bundle.mjs'
import { ensurePackages, root } from './ensure.mjs'

/** Writes the JSON Schemas of the story document and of bundles, the description of the HTTP interface, and the list of forms, made from the schemas that check them. */

ensurePackages()
const folder = join(root, 'dist', 'schema')
await bundle({
  entryPoints: [
    { in: join(root, 'src/core/story/json-schema.ts'), out: 'story' },
    { in: join(root, 'src/core/formats/bundle/schema.ts'), out: 'bundle' },
    { in: join(root, 'src/core/contract/openapi.ts'), out: 'openapi' },
    { in: join(root, 'src/core/formats/forms.ts'), out: 'forms' },
    { in: join(root, 'src/core/formats/forms-table.ts'), out: 'forms-table' },
  ],
  outdir: folder,
  splitting: true,
  external: ['exceljs', 'docx', 'mammoth'],
})
const made = async (name) => import(pathToFileURL(join(folder, `${name}.mjs`)).href)
const write = (name, schema) => writeFileSync(join(root, 'docs', name), `${JSON.stringify(schema, null, 2)}\n`)
const { version } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8'))
write('story.schema.json', (await made('story')).storyJsonSchema())
write('bundle.schema.json', (await made('bundle')).bundleJsonSchema())
write('openapi.json', (await made('openapi')).openApi(version))
const forms = readFileSync(join(root, 'docs/forms.md'), 'utf8')
const table = (await made('forms-table')).formsTable((await made('forms')).FORMS)
writeFileSync(
  join(root, 'docs/forms.md'),
  forms.replace(/<!-- forms -->[^]*<!-- \/forms -->/, () => `<!-- forms -->\n\n${table}\n\n<!-- /forms -->`),
)
