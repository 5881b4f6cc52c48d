import type { Player } from '../../simulate/player'
import type { Share, SimulationResult } from '../../simulate/result'
import type { Spread } from '../../simulate/spread'

/** Choices that are listed as seldom taken. */
const LISTED = 10

/** A simulation for people; `wordsPerMinute` is how fast the player reads. */
export function writeSimulationText(name: string, result: SimulationResult, wordsPerMinute: number): string {
  const { plays, seed, decisions, words, unended, endings, stages, choices, beats } = result
  const minutes = (count: number) => (count / wordsPerMinute).toFixed(1)
  const lines = [
    name,
    `  ${plays} playthroughs by a player who ${sayPlayer(result.player)}, seed ${seed}`,
    ...shares('endings', endings),
    ...Object.entries(unended).flatMap(([how, share]) => (share.plays === 0 ? [] : [`    ${percent(share)} ${how}`])),
    ...shares('quest stages', stages),
    ...(decisions.spread === undefined ? [] : [`  decisions: ${saySpread(decisions.spread, String)}`]),
    ...(words.spread === undefined
      ? []
      : [
          `  words read: ${saySpread(words.spread, String)}`,
          `  minutes at ${wordsPerMinute} words a minute: ${saySpread(words.spread, minutes)}`,
        ]),
  ]
  const unseen = Object.entries(beats).filter(([, beat]) => beat.plays === 0)
  if (unseen.length > 0) lines.push(`  beats that nobody came by: ${some(unseen.map(([address]) => address))}`)
  const untaken = Object.entries(choices).filter(([, choice]) => choice.offered > 0 && choice.taken === 0)
  if (untaken.length > 0) lines.push(`  choices that nobody took: ${some(untaken.map(([address]) => address))}`)
  return `${lines.join('\n')}\n`
}

export function sayPlayer(player: Player): string {
  switch (player.kind) {
    case 'random':
      return 'chooses at random'
    case 'curious':
      return 'looks for text not read yet'
    case 'bound':
      return `goes for the ending "${player.ending}"`
  }
}

function shares(title: string, of: Readonly<Record<string, Share>>): string[] {
  const list = Object.entries(of)
  return list.length === 0 ? [] : [`  ${title}`, ...list.map(([id, share]) => `    ${percent(share)} ${id}`)]
}

function percent({ share }: Share): string {
  return `${(share * 100).toFixed(1)} %`.padStart(7)
}

function saySpread(spread: Spread, say: (value: number) => string): string {
  return `${say(spread.least)} to ${say(spread.most)}, half of them between ${say(spread.lowerQuartile)} and ${say(spread.upperQuartile)}, median ${say(spread.median)}`
}

function some(list: readonly string[]): string {
  return list.length <= LISTED
    ? list.join(', ')
    : `${list.slice(0, LISTED).join(', ')} and ${list.length - LISTED} more`
}
