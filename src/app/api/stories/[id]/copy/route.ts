import { formCalled, formsFor } from '../../../../../core/formats/forms'
import { portOf } from '../../../../../core/formats/ports'
import { copyAsked } from '../../../../../core/reading/asked'
import { withComments } from '../../../../../core/reading/remarks'
import { keptStory } from '../../../../../store/kept-story'
import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { asFile, secondsIn } from '../../../../server/asked'
import { surveyed } from '../../../../server/story-of'

const FORMATS = formsFor('copy')
  .map(({ id }) => id)
  .join(', ')

/** A reading copy as a file: of the story, of a `scene`, of a kept `route`, or of the shortest way to an `ending`. */
export const GET = handler<{ id: string }>('read', async ({ request, store, params: { id } }) => {
  const asked = new URL(request.url).searchParams
  const form = formCalled('copy', asked.get('format') ?? '')
  if (form === undefined) return refuse(400, `format: one of ${FORMATS} is expected`)
  const seconds = secondsIn(asked)
  if (!seconds.ok) return seconds.error
  const kept = await keptStory(store, id)
  if (kept === undefined) return refuse(404, NO_STORY)
  const [scene, route, ending] = ['scene', 'route', 'ending'].map((name) => asked.get(name) ?? undefined)
  const wayTo = async (to: string) =>
    (await surveyed(kept.linked, seconds.value, { routes: 'ends' })).reached.endings[to]?.route
  const copy = await copyAsked(kept.linked, { scene, route, ending }, new Date(), wayTo)
  if (!copy.ok) return refuse(400, copy.error)
  const threads = asked.get('comments') === 'open' ? await store.ask('threads', id) : []
  const content = await (await portOf('copy', form))(withComments(copy.value, threads))
  const { title, part } = copy.value
  const file = asFile(part === undefined ? title : `${title}, ${part}`, id, form.endings[0])
  // opened in the browser it is there to be printed
  const shown = asked.get('open') === 'here' ? {} : file
  return new Response(content as BodyInit, {
    headers: { 'Content-Type': form.type, 'Cache-Control': 'no-store', ...shown },
  })
})
