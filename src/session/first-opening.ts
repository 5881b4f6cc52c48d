import { api } from './api'

/** What a page asked for while it was loaded, before there was anything else of it. */
interface Early {
  readonly path: string
  readonly asked: Promise<Response>
}

/** Where the page's first script leaves it. */
const NAME = 'paperCompassOpening'

/** The first script of a page about a story: asks for it at once. */
export function openingScript(id: string): string {
  // whoever takes it hears of a failure
  return `{const path=${JSON.stringify(pathOf(id))},asked=fetch(path);asked.catch(()=>0);self.${NAME}={path,asked}}`
}

/** Asks the server for a story; what was asked for while the page was loaded is taken once. */
export function openStory(id: string): ReturnType<typeof api.open> {
  const left = globalThis as { [NAME]?: Early }
  const early = left[NAME]
  delete left[NAME]
  return api.open(id, early?.path === pathOf(id) ? early.asked : undefined)
}

function pathOf(id: string): string {
  return `/api/stories/${encodeURIComponent(id)}`
}
