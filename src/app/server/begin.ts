import { settings, signIn } from './access'
import { store } from './store'
import { storyMegabytes } from './story-limit'

/** Opens the store and the way in, or ends the process with the reason. */
export async function begin(): Promise<void> {
  try {
    const known = settings()
    const limit = storyMegabytes()
    if (!limit.ok) throw new Error(limit.error)
    const opened = await store()
    await signIn()
    const key = known && (await opened.ask('firstKey'))
    if (key !== undefined)
      console.log(`Nobody has an account here yet. Who opens this becomes the owner: ${known!.url}/begin?key=${key}`)
  } catch (error) {
    console.error(`Paper Compass could not start: ${(error as Error).message}`)
    process.exit(1)
  }
}
