import type { Random } from '../src/core/base/random'
import type { Beat, Story } from '../src/core/story/types'

/** An edit as writers make them: a gate or effects from elsewhere, a gate gone, a road turned, a line said only sometimes. */
export function edited(story: Story, random: Random): Story {
  const beats = story.scenes.flatMap((scene) => scene.beats)
  const choices = beats.flatMap((beat) => beat.choices ?? [])
  const endings = story.endings ?? []
  const gates = choices.flatMap(({ when }) => when ?? [])
  const effects = choices.flatMap((choice) => choice.do ?? [])
  // rather an early one, on which more depends
  const target = beats[random.below(1 + random.below(beats.length))]!
  const gate = gates.length === 0 || random.chance(0.3) ? 'false' : gates[random.below(gates.length)]!
  const change = (beat: Beat): Beat => {
    const list = beat.choices ?? []
    const at = random.below(Math.max(1, list.length))
    const choice = list[at]
    const put = (keys: object): Beat => ({
      ...beat,
      choices: list.map((one, index) => (index === at ? { ...one, ...keys } : one)),
    })
    switch (random.below(choice === undefined ? 1 : 9)) {
      case 0:
        return {
          ...beat,
          lines: [...(beat.lines ?? []), { text: 'Said now.', when: gate, do: effects.slice(0, random.below(3)) }],
        }
      case 1:
        return { ...beat, place: beat.place !== true }
      case 2:
        return put({ when: gate })
      case 3:
        return put({ when: undefined })
      case 4:
        return put({ do: effects.length === 0 ? [] : [effects[random.below(effects.length)]!] })
      case 5:
        return put({ to: 'return' })
      case 6: {
        const { ending, ...others } = beat
        return ending === undefined && endings.length > 0 ? { ...beat, ending: random.pick(endings).id } : others
      }
      default: {
        const { id, beats: some } = random.pick(story.scenes.filter((one) => one.beats.length > 0))
        return put({ to: `${id}.${random.pick(some).id}` })
      }
    }
  }
  return {
    ...story,
    scenes: story.scenes.map((scene) => ({
      ...scene,
      beats: scene.beats.map((beat) => (beat === target ? change(beat) : beat)),
    })),
  }
}

/** A story in which a choice comes to be taken once, or to be taken again, or another asks for it or for visits, or it goes. */
export function retaken(story: Story, random: Random): Story {
  const at = random.pick(story.scenes.filter(({ beats }) => beats.some(({ choices }) => (choices ?? []).length > 0)))
  const beat = random.pick(at.beats.filter(({ choices }) => (choices ?? []).length > 0))
  const choices = beat.choices!
  const one = random.below(choices.length)
  const elsewhere = random.pick(
    story.scenes.flatMap(({ id, beats }) =>
      beats.map(({ id: own, choices: all }) => ({ address: `${id}.${own}`, all })),
    ),
  )
  const taken =
    random.chance(0.8) || elsewhere.all === undefined || elsewhere.all.length === 0
      ? `${at.id}.${beat.id}.${choices[one]!.id}`
      : `${elsewhere.address}.${random.pick(elsewhere.all).id}`
  const asks = random.chance(0.9)
    ? `${random.chance(0.5) ? '' : '!'}taken('${taken}')`
    : `visits('${elsewhere.address}') < ${1 + random.below(3)}`
  const other = random.below(choices.length)
  const changed = random.pick([
    () => choices.with(one, { ...choices[one]!, once: choices[one]!.once !== true }),
    () => choices.with(other, { ...choices[other]!, when: asks }),
    () => choices.with(other, { ...choices[other]!, when: undefined }),
    () => (choices.length > 1 ? choices.toSpliced(one, 1) : choices),
  ])()
  const put = (some: Beat): Beat => (some === beat ? { ...beat, choices: changed } : some)
  return {
    ...story,
    scenes: story.scenes.map((scene) => (scene === at ? { ...scene, beats: scene.beats.map(put) } : scene)),
  }
}

/** The same story with so many more flags between its entries that hardly two of these share a chunk of slots. */
export function scattered(story: Story): Story {
  const ledger = story.ledger ?? []
  const between = (entry: number) =>
    Array.from({ length: 31 }, (_, at) => ({ id: `between${entry}_${at}`, kind: 'flag' as const }))
  return { ...story, ledger: ledger.flatMap((entry, at) => [entry, ...between(at)]) }
}

/** The same story with numbers that each state holds, of which two don't fit into one word. */
export function widened(story: Story): Story {
  const wide = [0, 1, 2, 3].map((at) => ({
    id: `wide${at}`,
    kind: 'counter' as const,
    min: 0,
    max: 100_000,
    initial: 0,
  }))
  const sum = wide.map(({ id }) => id).join(' + ')
  return {
    ...story,
    ledger: [...(story.ledger ?? []), ...wide],
    scenes: story.scenes.map((scene) => ({
      ...scene,
      beats: scene.beats.map((beat) => ({
        ...beat,
        lines: [
          { text: 'Counted.', when: `${sum} > 7` },
          ...(`${scene.id}.${beat.id}` === story.start
            ? [{ text: 'First.', do: wide.map(({ id }) => `${id} = 2`) }]
            : []),
          ...(beat.lines ?? []),
        ],
      })),
    })),
  }
}

/**
 * Corners one after another, with stalls behind which one comes to alleys that all of them share: an edit at one corner
 * leaves most of it as it was, and what was first seen from there is to be seen from others too.
 */
export function street(corners: number, random: Random): Story {
  const effects = [
    "quest.dig = 'asked'",
    "quest.dig = 'done'",
    'coin += 1',
    'coin -= 1',
    'lit = true',
    'lit = false',
    "name = 'Wren'",
  ]
  const gates = ['lit', '!lit', 'coin > 0', 'coin == 2', "quest.dig == 'asked'"].map((when) => ({ when }))
  const alleys = ['well', 'yard', 'round', 'gate', 'stuck', 'shore']
  const scenes = Array.from({ length: corners }, (_, at) => {
    const next = at + 1 < corners ? `corner${at + 1}.start` : 'alley.end'
    const stall = (id: string): Beat => ({
      id,
      choices: [
        { id: 'in', text: 'In', to: `corner${at}.${id}_back` },
        { id: 'past', text: 'Past', to: next },
      ],
    })
    const back = (id: string): Beat => ({
      id: `${id}_back`,
      choices: [
        {
          id: 'on',
          text: 'On',
          ...random.pick([{}, {}, ...gates]),
          do: [random.pick(effects)],
          to: `alley.${random.pick(alleys)}`,
        },
        { id: 'home', text: 'Home', do: random.chance(0.5) ? [random.pick(effects)] : [], to: next },
      ],
    })
    const start: Beat = {
      id: 'start',
      choices: ['left', 'right'].map((id) => ({ id, text: id, to: `corner${at}.${id}` })),
    }
    const beats = [start, ...['left', 'right'].flatMap((id) => [stall(id), back(id)])]
    return { id: `corner${at}`, title: `Corner ${at}`, beats }
  })
  const away = () => `corner${random.below(corners)}.start`
  const alley: Beat[] = [
    {
      id: 'well',
      lines: [{ text: 'Wet.', when: 'lit', do: ['coin += 2'] }],
      choices: [{ id: 'up', text: 'Up', to: away() }],
    },
    {
      id: 'yard',
      redirects: [{ when: 'lit', to: 'alley.well' }],
      lines: [{ text: 'For {name}.' }],
      onward: [{ to: 'alley.gate' }],
    },
    { id: 'round', onward: [{ when: 'coin == 1', to: 'alley.back' }, { to: 'alley.yard' }] },
    { id: 'back', onward: [{ to: 'alley.round' }] },
    {
      id: 'gate',
      redirects: [{ when: 'coin == 2', to: 'alley.pier' }],
      lines: [{ text: 'Dug.', when: "quest.dig == 'done'", do: ["quest.dig = 'asked'"] }],
      choices: [{ id: 'through', text: 'Through', to: away() }],
    },
    { id: 'stuck', choices: [{ id: 'pry', text: 'Pry', when: 'coin > 1', to: 'alley.shore' }] },
    { id: 'shore', ending: 'sea' },
    { id: 'pier', ending: 'sea' },
    { id: 'end', ending: 'end' },
  ]
  return {
    paperCompass: 1,
    title: 'A street',
    language: 'en',
    start: 'corner0.start',
    ledger: [
      { id: 'lit', kind: 'flag' },
      { id: 'coin', kind: 'counter', min: 0, max: 2 },
      { id: 'name', kind: 'text' },
    ],
    quests: [
      {
        id: 'dig',
        name: 'Dig',
        stages: [
          { id: 'asked', name: 'Asked' },
          { id: 'done', name: 'Done', outcome: 'success' },
        ],
        moves: [['unstarted', 'asked']],
      },
    ],
    endings: [
      { id: 'sea', name: 'Sea' },
      { id: 'end', name: 'End' },
    ],
    scenes: [...scenes, { id: 'alley', title: 'Alley', beats: alley }],
  }
}
