/** Opens the store before the first request, so that a folder in use is refused at once. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return
  const { store } = await import('./app/server/store')
  try {
    await store()
  } catch (error) {
    console.error(`Paper Compass could not start: ${(error as Error).message}`)
    process.exit(1)
  }
}
