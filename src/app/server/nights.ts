import type { Nights } from '../../core/contract/jobs'
import { jobSettings } from '../../store/jobs/settings'
import type { StoreClient } from '../../store/worker/client'

/** The latest survey of all stories, of those that are shown to whoever asks. */
export async function nightsFor(
  store: StoreClient,
  { member, story }: { readonly member?: string; readonly story?: string },
): Promise<Nights> {
  const [night, { workers }] = await Promise.all([store.ask('night', member), store.ask('load')])
  const settings = jobSettings(process.env)
  const shown = night && {
    ...night,
    stories: night.stories.filter((one) => story === undefined || one.story === story),
  }
  return { night: shown ?? null, workers, at: (settings.ok ? settings.value.night : undefined) ?? null }
}
