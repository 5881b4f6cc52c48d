/** How many times as much is tried as in each run of the tests, and which seed is the first (`npm run trust`). */
const asked = process.env.PAPER_COMPASS_TIMES
const times = Number(asked ?? 1)
const first = Number(process.env.PAPER_COMPASS_FIRST_SEED ?? 1)

/** Whether there is time for much. */
export const isMuch = times > 1

/**
 * Seeds of stories with very many states, or ways through a beat: a few in a hundred, to which half of the time would go. They are left
 * out in each run of the tests, and tried where there is time.
 */
const LARGE = new Set(
  asked === undefined ? [7, 10, 13, 21, 22, 23, 35, 48, 50, 58, 72, 78, 83, 84, 104, 185, 280, 368, 377] : [],
)

/** Seeds of what is made up for a test, `count` of them; where much is to be tried, more, and others. */
export function* seeds(count: number): Generator<number, void> {
  let left = Math.round(count * times)
  for (let seed = first; left > 0; seed += 1) {
    if (LARGE.has(seed)) continue
    yield seed
    left -= 1
  }
}
