import { store } from './store'

/** Opens the store, or ends the process with the reason. */
export async function begin(): Promise<void> {
  try {
    await store()
  } catch (error) {
    console.error(`Paper Compass could not start: ${(error as Error).message}`)
    process.exit(1)
  }
}
