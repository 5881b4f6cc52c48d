import { plainId } from '../../core/base/ids'
import type { Chart } from '../../core/atlas/chart'
import { parseEffect, parseExpression } from '../../core/expression/parse'
import { sayCondition, sayEffect } from '../../core/expression/words'
import { NO_BEAT, ROAD_KINDS, TAKEN, type RoadKind } from '../../core/story/roads'
import { linesOf, type Beat, type Choice, type Story } from '../../core/story/types'
import { storyNames } from '../../session/names'
import type { Words } from './sheet'

/** The part of a beat that a road is written in. */
interface Written {
  readonly choice: Choice | undefined
  readonly when: string | undefined
  readonly effects: readonly string[]
  /** As findings name it. */
  readonly address: string
}

const KIND_WORDS: Readonly<Record<RoadKind, string>> = {
  choice: 'Choice',
  encounter: 'Encounter',
  redirect: 'Sent elsewhere on arrival',
  onward: 'Goes on by itself',
  return: 'Returns',
}

/** What stands at the beats and roads of a chart, as the story reads now. What has gone since is empty. */
export class ChartWords implements Words {
  private readonly beats = new Map<string, { readonly beat: Beat; readonly scene: string }>()

  constructor(
    readonly story: Story,
    readonly chart: Chart,
  ) {
    for (const { id, title, beats } of story.scenes)
      for (const beat of beats) this.beats.set(`${id}.${beat.id}`, { beat, scene: title })
  }

  beat(index: number): Beat | undefined {
    return this.beats.get(this.chart.beats[index]!)?.beat
  }

  sceneOf(index: number): string {
    return this.beats.get(this.chart.beats[index]!)?.scene ?? ''
  }

  scene(band: number): string {
    const id = this.chart.scenes[band]!
    const title = this.story.scenes.find((scene) => scene.id === id)?.title ?? ''
    return title.trim() === '' ? plainId(id) : title
  }

  title(index: number): string {
    const beat = this.beat(index)
    return beat === undefined ? '' : (beat.title ?? plainId(beat.id))
  }

  first(index: number): string {
    const beat = this.beat(index)
    return (beat === undefined ? undefined : linesOf(beat)[0]?.text)?.replaceAll(/\s+/g, ' ') ?? ''
  }

  isEnding(index: number): boolean {
    return this.beat(index)?.ending !== undefined
  }

  isPlace(index: number): boolean {
    return this.beat(index)?.place === true
  }

  /** What the player reads on a road; of others, what they do. */
  road(road: number): string {
    const { choice } = this.written(road)
    return choice?.text ?? ''
  }

  home(road: number): string {
    const to = this.chart.roads.to[road]!
    return to === NO_BEAT ? 'back' : `back to ${this.title(to)}`
  }

  written(road: number): Written {
    const { roads, beats } = this.chart
    const from = roads.from[road]!
    const beat = this.beat(from)
    const kind = ROAD_KINDS[roads.kind[road]!]!
    const owner = roads.owner[road]!
    const address = beats[from]!
    const isChoice =
      kind === 'choice' || kind === 'encounter' || (kind === 'return' && roads.decides[road] === 1 && !beat?.ask)
    if (isChoice) {
      const choice = beat?.choices?.[owner]
      const number = roads.rule[road]!
      const rule = typeof choice?.to === 'string' || number === 0 ? undefined : choice?.to[number - 1]
      return {
        choice,
        when: bothOf(choice?.when, rule?.when),
        effects: [...(choice?.do ?? []), ...(rule?.do ?? [])],
        address: `${address}.${choice?.id ?? ''}${number === 0 ? '' : `#${number}`}`,
      }
    }
    const list = kind === 'redirect' ? beat?.redirects : beat?.onward
    const rule = list?.[owner - 1]
    return {
      choice: undefined,
      when: rule?.when,
      effects: rule?.do ?? [],
      address: `${address}#${kind === 'redirect' ? 'redirect' : 'onward'}${owner}`,
    }
  }

  /** A road in full: what it is, its gate and what it changes in words, where it leads. */
  sayRoad(road: number): {
    readonly head: string
    readonly gate?: string
    readonly does?: string
    readonly to: string
  } {
    const { roads, taken, column, inMargin } = this.chart
    const { choice, when, effects } = this.written(road)
    const names = storyNames(this.story)
    const kind = ROAD_KINDS[roads.kind[road]!]!
    const gate = when === undefined ? undefined : parseExpression(when)
    const to = roads.to[road]!
    const does = effects.map((source) => {
      const effect = parseEffect(source)
      return effect.ok ? sayEffect(effect.value, names) : source
    })
    const where =
      to === NO_BEAT
        ? kind === 'return'
          ? 'back to where the player came from'
          : 'leads nowhere yet'
        : `to “${this.title(to)}”${inMargin[to] === 1 ? ', which no route comes to' : `, after ${column[to]}`}`
    return {
      head: `${KIND_WORDS[kind]}${choice === undefined ? '' : `: “${choice.text}”`}${taken[road] === TAKEN.never ? ' (no route takes it)' : ''}`,
      ...(gate === undefined ? {} : { gate: gate.ok ? sayCondition(gate.value, names) : when! }),
      ...(does.length === 0 ? {} : { does: does.join(', ') }),
      to: where,
    }
  }

  /** Why a group stands in the margin. */
  group(group: number): string {
    const { road } = this.chart.groups[group]!
    if (road === -1) return 'nothing leads here'
    const { choice } = this.written(road)
    return choice === undefined
      ? `the road from “${this.title(this.chart.roads.from[road]!)}” is never taken`
      : `“${choice.text}” never leads here`
  }
}

function bothOf(one: string | undefined, other: string | undefined): string | undefined {
  return one === undefined ? other : other === undefined ? one : `(${one}) && (${other})`
}
