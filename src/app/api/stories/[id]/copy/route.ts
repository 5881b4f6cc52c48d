import { formCalled, formsFor } from '../../../../../core/formats/forms'
import { manuscriptCopy } from '../../../../../core/reading/manuscript'
import { screenplayCopy } from '../../../../../core/reading/screenplay'
import { fail, ok, type Result } from '../../../../../core/base/result'
import type { LinkedStory } from '../../../../../core/story/linked'
import type { ReadingCopy } from '../../../../../core/reading/copy'
import { keptStory } from '../../../../../store/kept-story'
import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { asFile, secondsIn } from '../../../../server/asked'
import { surveyed } from '../../../../server/story-of'

const FORMATS = formsFor('copy')
  .map(({ id }) => id)
  .join(', ')

/** A reading copy as a file: of the story, of a `scene`, of a kept `route`, or of the shortest way to an `ending`. */
export const GET = handler<{ id: string }>(async ({ request, store, params: { id } }) => {
  const asked = new URL(request.url).searchParams
  const form = formCalled('copy', asked.get('format') ?? '')
  if (form === undefined) return refuse(400, `format: one of ${FORMATS} is expected`)
  const seconds = secondsIn(asked)
  if (!seconds.ok) return seconds.error
  const kept = await keptStory(store, id)
  if (kept === undefined) return refuse(404, NO_STORY)
  const copy = await copyAsked(kept.linked, asked, seconds.value)
  if (!copy.ok) return refuse(400, copy.error)
  const content = await (await form.copy.load())(copy.value)
  const { title, part } = copy.value
  const file = asFile(part === undefined ? title : `${title}, ${part}`, id, form.endings[0])
  // opened in the browser it is there to be printed
  const shown = asked.get('open') === 'here' ? {} : file
  return new Response(content as BodyInit, {
    headers: { 'Content-Type': form.type, 'Cache-Control': 'no-store', ...shown },
  })
})

async function copyAsked(story: LinkedStory, asked: URLSearchParams, seconds: number): Promise<Result<ReadingCopy>> {
  const made = new Date()
  const [scene, route, ending] = ['scene', 'route', 'ending'].map((name) => asked.get(name) ?? undefined)
  if (route !== undefined) {
    const found = story.routes.find((one) => one.id === route)
    return found === undefined
      ? fail(`route: there is no kept route "${route}"`)
      : screenplayCopy(story, found.decisions, found.name, made)
  }
  if (ending !== undefined) {
    const at = story.endingOf.get(ending)
    if (at === undefined) return fail(`ending: there is no ending "${ending}"`)
    const reached = (await surveyed(story, seconds, { routes: 'ends' })).reached.endings[ending]
    return reached?.route === undefined
      ? fail(`ending: no route to "${story.endings[at]!.name}" is known`)
      : screenplayCopy(story, reached.route, `the shortest way to ${story.endings[at]!.name}`, made)
  }
  if (scene !== undefined && !story.scenes.some(({ id }) => id === scene))
    return fail(`scene: there is no scene "${scene}"`)
  return ok(manuscriptCopy(story, made, scene))
}
