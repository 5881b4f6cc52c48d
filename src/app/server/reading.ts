import { fail, ok, type Result } from '../../core/base/result'
import type { StoreClient } from '../../store/worker/client'
import { failureIn } from '../../store/worker/protocol'
import { store } from './store'

/** What the store says for a page, or why it can say nothing now. */
export async function reading<T>(work: (store: StoreClient) => Promise<T>): Promise<Result<T, string>> {
  try {
    return ok(await work(await store()))
  } catch (error) {
    const failure = failureIn(error)
    if (failure === undefined) throw error
    return fail(failure.message)
  }
}
