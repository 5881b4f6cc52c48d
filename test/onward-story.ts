import { withPlainLines, type Beat, type Choice, type Rule, type Story } from '../src/core/story/types'

/**
 * The story with no road back to an earlier scene, and each quest set in one scene alone: from
 * scene to scene quests become final, while endings and beats of later scenes are shared by roads
 * on which they were final before.
 */
export function withoutWayBack(story: Story): Story {
  const sceneOf = new Map(story.scenes.map(({ id }, at) => [id, at]))
  const questOf = new Map((story.quests ?? []).map(({ id }, at) => [id, at % story.scenes.length]))
  const road = (to: string, from: number) =>
    (sceneOf.get(to.split('.')[0]!) ?? from) < from
      ? `${story.scenes[from]!.id}.${story.scenes[from]!.beats[0]!.id}`
      : to
  const kept = (effects: string[] | undefined, from: number) =>
    effects?.filter((effect) => {
      const quest = /^quest\.(\w+)/.exec(effect)?.[1]
      return quest === undefined || questOf.get(quest) === from
    })
  const owned = <T extends { do?: string[] | undefined }>(owner: T, from: number): T =>
    owner.do === undefined ? owner : { ...owner, do: kept(owner.do, from) }
  const rule = (one: Rule, from: number): Rule => ({ ...owned(one, from), to: road(one.to, from) })
  // every first choice begins the quest of its scene
  const begun = (one: Choice, from: number, at: number): Choice => {
    const quest = [...questOf].find(([, scene]) => scene === from)?.[0]
    return at > 0 || quest === undefined ? one : { ...one, do: [...(one.do ?? []), `quest.${quest} = 'asked'`] }
  }
  const choice = (one: Choice, from: number): Choice => ({
    ...owned(one, from),
    to: typeof one.to === 'string' ? road(one.to, from) : one.to.map((inner) => rule(inner, from)),
  })
  const beat = (one: Beat, from: number): Beat => ({
    ...one,
    ...(one.redirects && { redirects: one.redirects.map((inner) => rule(inner, from)) }),
    ...(one.arrive && { arrive: one.arrive.map((inner) => owned(inner, from)) }),
    ...(one.lines && {
      lines: one.lines.map((line) => withPlainLines(line, (inner) => owned(inner, from))),
    }),
    ...(one.choices && { choices: one.choices.map((inner, at) => begun(choice(inner, from), from, at)) }),
    ...(one.onward && { onward: one.onward.map((inner) => rule(inner, from)) }),
  })
  return {
    ...story,
    scenes: story.scenes.map((scene, from) => ({ ...scene, beats: scene.beats.map((one) => beat(one, from)) })),
  }
}
