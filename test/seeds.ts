/** How many times as much is tried as in each run of the tests, and which seed is the first (`npm run trust`). */
const times = Number(process.env.PAPER_COMPASS_TIMES ?? 1)
const first = Number(process.env.PAPER_COMPASS_FIRST_SEED ?? 1)

/** Whether there is time for much. */
export const isMuch = times > 1

/** Seeds of what is made up for a test, `count` of them; where much is to be tried, more, and others. */
export function* seeds(count: number): Generator<number, void> {
  for (let at = 0; at < Math.round(count * times); at += 1) yield first + at
}
