import type { Playthrough, RouteItem } from '../../runtime/src/index'

/** How somebody played, for the author: what they did and how long it took, and nothing of who they are. */
export interface PlayRecord {
  readonly paperCompassPlaytest: 1
  readonly story: string
  readonly version: string
  readonly title: string
  readonly language: string
  readonly seed: number
  /** Each item of the route with where the story rested before, and how many seconds passed there. */
  readonly steps: readonly { readonly item: RouteItem; readonly at: string; readonly seconds: number }[]
  readonly stopped: { readonly at: string; readonly status: string; readonly ending?: string; readonly seconds: number }
}

/** Seconds at one rest beyond which somebody was away. */
const AWAY_SECONDS = 600

/** Notes what is done, once somebody agreed to it. */
export class Recorder {
  private since = Date.now()

  constructor(private record: PlayRecord) {}

  static begin(of: Pick<PlayRecord, 'story' | 'version' | 'title' | 'language' | 'seed'>, game: Playthrough): Recorder {
    return new Recorder({ paperCompassPlaytest: 1, ...of, steps: [], stopped: stop(game, 0) })
  }

  /** After an item was played: where the story rested before it. */
  note(item: RouteItem, at: string, game: Playthrough): PlayRecord {
    const seconds = Math.min(AWAY_SECONDS, Math.round((Date.now() - this.since) / 100) / 10)
    this.since = Date.now()
    this.record = { ...this.record, steps: [...this.record.steps, { item, at, seconds }], stopped: stop(game, 0) }
    return this.record
  }

  /** As it stands now. */
  now(game: Playthrough): PlayRecord {
    const seconds = Math.min(AWAY_SECONDS, Math.round((Date.now() - this.since) / 1000))
    return { ...this.record, stopped: stop(game, seconds) }
  }
}

function stop(game: Playthrough, seconds: number): PlayRecord['stopped'] {
  const ending = game.ending
  return { at: game.beat ?? '', status: game.status, ...(ending === undefined ? {} : { ending: ending.id }), seconds }
}
