import { readdirSync, readFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { Ajv2020 } from 'ajv/dist/2020.js'
import ajvFormats from 'ajv-formats'

interface Described {
  readonly paths: Record<
    string,
    Record<string, { operationId: string; responses: Record<string, { content: Record<string, { schema?: object }> }> }>
  >
  readonly components: object
}
const read = (name: string) => JSON.parse(readFileSync(resolve('docs', name), 'utf8')) as object
/** The interface as docs/openapi.json has it. */
export const described = read('openapi.json') as Described

const ajv = new Ajv2020({ strict: false, allErrors: false })
// of another kind of module
;(ajvFormats as unknown as { default: (to: Ajv2020) => void }).default(ajv)
ajv.addSchema({ ...read('story.schema.json'), $id: 'http://here/story.schema.json' })
ajv.addSchema({ ...read('bundle.schema.json'), $id: 'http://here/bundle.schema.json' })
ajv.addSchema({ ...described, $id: 'http://here/openapi.json' })

/** Whether JSON is as the description has it at a place. */
export function fits(place: string, json: unknown): string | null {
  const pointer = place
    .split(' ')
    .map((part) => encodeURIComponent(part.replaceAll('~', '~0').replaceAll('/', '~1')))
    .join('/')
  const check = ajv.compile({ $ref: `http://here/openapi.json#/${pointer}` })
  return check(json) ? null : ajv.errorsText(check.errors)
}

/** The files of all routes below a folder. */
export function* routes(folder: string): Generator<string> {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name)
    if (entry.isDirectory()) yield* routes(path)
    else if (entry.name === 'route.ts') yield path
  }
}
