import { plainLinesIn, type Story } from './types'

/** By cue: the addresses of the lines and choices that issue it, in the order of the document. */
export function cueUses(story: Story): ReadonlyMap<string, readonly string[]> {
  const uses = new Map<string, string[]>()
  const note = (cues: readonly { readonly cue: string }[] | undefined, address: string) => {
    for (const { cue } of cues ?? []) {
      const list = uses.get(cue)
      if (list === undefined) uses.set(cue, [address])
      else if (list.at(-1) !== address) list.push(address)
    }
  }
  for (const scene of story.scenes)
    for (const beat of scene.beats) {
      const address = `${scene.id}.${beat.id}`
      beat.lines?.forEach((line, at) => {
        for (const { line: plain, suffix } of plainLinesIn(line)) note(plain.cues, `${address}#line${at + 1}${suffix}`)
      })
      for (const choice of beat.choices ?? []) note(choice.cues, `${address}.${choice.id}`)
    }
  return uses
}
