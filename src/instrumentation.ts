/** Opens the store before the first request, so that a folder in use is refused at once. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME === 'nodejs') await (await import('./app/server/begin')).begin()
}
