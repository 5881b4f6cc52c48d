import { randomStory } from '../bench/stories/random'
import { applyChange } from '../src/core/story/changes/apply'
import { linkStory } from '../src/core/story/link'
import { ownersIn } from '../src/core/story/owners-in'
import { patchOwners } from '../src/core/story/quests/patch-owners'
import { rename } from '../src/core/story/rename/rename'
import { beatOf, parseAddress } from '../src/core/base/address'
import { patchPart } from '../src/core/story/reshape/patch-part'
import type { Story } from '../src/core/story/types'
import { ownersOf } from '../src/core/story/linked-parts'
import { surveyStory } from '../src/core/survey/survey'
import { seeds } from './seeds'

/** Everything that can have a gate or effects, by the document. */
function owners(story: Story) {
  return story.scenes.flatMap((scene) =>
    scene.beats.flatMap((beat) => ownersIn(scene.id, beat).map((owner) => ({ ...owner, beat }))),
  )
}

test('parts have the addresses that the survey tells of, and each can be changed alone', () => {
  let changed = 0
  for (const seed of seeds(35)) {
    const story = randomStory(seed)
    const linked = linkStory(story)
    const known = linked.inOrder.flatMap((beat) => ownersOf(beat).map(({ address }) => address))
    const all = owners(story)
    // of double ids the first counts; everything else has one address
    expect(known.filter((address) => !all.some((owner) => owner.address === address))).toEqual([])
    for (const { address, part, beat } of all) {
      const place = parseAddress(address)!
      const next = patchPart(beat, place, (one) => ({ ...one, when: 'false && true' }))
      const differs = ownersIn(place.scene, next).filter(
        (other, at) => JSON.stringify(other.part) !== JSON.stringify(ownersIn(place.scene, beat)[at]!.part),
      )
      // a choice holds its own roads, a variant its lines
      expect(differs.map((one) => one.address)).toEqual(
        part.when === 'false && true' ? [] : expect.arrayContaining([address]),
      )
      expect(differs.every((one) => address.startsWith(one.address) || one.address === address)).toBe(true)
      expect(patchPart(beat, place, (one) => one)).toBe(beat)
      changed += differs.length
    }
  }
  expect(changed).toBeGreaterThan(500)
})

test('several parts of one beat are changed in one replacement, and taken back whole', () => {
  for (const seed of seeds(25)) {
    const story = randomStory(seed)
    const some = owners(story)
      .filter((_, at) => at % 3 === 0)
      .map(({ address }) => address)
    const changes = patchOwners(story, some, (part, owner) => ({
      ...part,
      do: [...(part.do ?? []), `mark = '${owner}'`],
    }))
    const beats = new Set(some.map(beatOf))
    expect(changes.length).toBeLessThanOrEqual(beats.size)
    const applied = applyChange(story, { op: 'batch', changes })
    if (!applied.ok) throw new Error(applied.error)
    const undone = applyChange(applied.value.story, applied.value.inverse)
    expect(undone.ok && undone.value.story).toEqual(story)
  }
})

test('a finding that was set aside stays set aside when its beat, choice or scene is renamed', () => {
  let followed = 0
  for (const seed of seeds(45)) {
    const story = randomStory(seed, 'tiny')
    const finding = surveyStory(linkStory(story)).findings.find(({ key }) => {
      const address = parseAddress(key[0]!)
      return address !== undefined && (address.choice !== undefined || address.steps.length > 0)
    })
    const place = finding && parseAddress(finding.key[0]!)
    if (finding === undefined || place === undefined) continue
    const put: Story = {
      ...story,
      setAside: [{ id: 'aside', kind: finding.kind, about: [...finding.key], reason: 'Meant so.' }],
    }
    for (const named of [
      { of: 'beat', scene: place.scene, id: place.beat },
      { of: 'scene', id: place.scene },
    ] as const) {
      const renamed = rename(put, named, 'elsewhere')
      if (!renamed.ok) throw new Error(renamed.error)
      const applied = applyChange(put, renamed.value.change)
      if (!applied.ok) throw new Error(applied.error)
      const { about } = applied.value.story.setAside![0]!
      const found = surveyStory(linkStory(applied.value.story)).findings
      expect({
        seed,
        about,
        found: found.some(({ kind, key }) => kind === finding.kind && key.join(' ') === about.join(' ')),
      }).toEqual({ seed, about, found: true })
      followed += 1
    }
  }
  expect(followed).toBeGreaterThan(40)
})
