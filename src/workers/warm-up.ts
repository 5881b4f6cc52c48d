import { Bearings } from '../core/survey/questions/bearing'
import { Survey } from '../core/survey/survey'
import { applyChange } from '../core/story/changes/apply'
import { linkStory } from '../core/story/link'
import type { Beat, Scene, Story } from '../core/story/types'

/**
 * What a new worker does while it waits for its first story: it surveys one of its own, edit after
 * edit, until the browser has made fast code of what a survey runs. A story that comes meanwhile
 * waits for one step at most.
 */

const SCENES = 8
/** Afterwards there is little left to be gained. */
const ROUNDS = 12
const STATES = 256

/** A story with all that stories have: a place to a scene, people to talk to, a quest, something to pay with, a way on. */
export function warmUpStory(): Story {
  const each = <T>(make: (s: number) => T) => Array.from({ length: SCENES }, (_, s) => make(s))
  return {
    paperCompass: 1,
    title: 'A story to warm up with',
    language: 'en',
    start: 's0.ask',
    cast: [{ id: 'warden', name: 'Warden' }],
    ledger: [
      { id: 'name', kind: 'text' },
      ...each((s) => ({ id: `known${s}`, kind: 'flag' as const })),
      ...each((s) => ({ id: `coins${s}`, kind: 'item' as const, max: 3, initial: 2 })),
    ],
    quests: each((s) => ({
      id: `q${s}`,
      name: `Quest ${s}`,
      stages: [
        { id: 'asked', name: 'Asked' },
        { id: 'done', name: 'Done', outcome: 'success' as const },
        { id: 'lost', name: 'Lost', outcome: 'failure' as const },
      ],
      moves: [
        ['unstarted', 'asked'],
        ['asked', 'done'],
        ['asked', 'lost'],
      ] as [string, string][],
    })),
    endings: [
      { id: 'home', name: 'Home' },
      { id: 'away', name: 'Away' },
    ],
    scenes: [
      ...each(sceneOf),
      {
        id: 'last',
        title: 'Last',
        beats: [
          { id: 'home', ending: 'home' },
          { id: 'away', ending: 'away' },
        ],
      },
    ],
    promises: [
      { id: 'p', kind: 'stillPossible', holds: "ended('home')" },
      { id: 'n', kind: 'never', holds: "ended('home') && ended('away')" },
    ],
  }
}

function sceneOf(s: number): Scene {
  const [quest, known, coins, lamp] = [`quest.q${s}`, `known${s}`, `coins${s}`, `lamp${s}`]
  const talk = (b: number): Beat => ({
    id: `talk${b}`,
    redirects: [{ when: `${quest} == 'lost' && ${known}`, to: `s${s}.hub` }],
    arrive: [{ when: `${known} && visits('s${s}.talk0') == ${b % 2}`, do: [`${coins} -= 1`] }],
    lines: [
      { speaker: 'warden', text: `Talk ${b}, {name, select, other {{name}}}.`, when: `${coins} >= 1` },
      {
        firstOf: [
          { when: `${known} && ${lamp} == 'lit'`, lines: [{ text: 'Again, {name}.', do: [`${coins} += 1`] }] },
          { lines: [{ speaker: 'warden', text: `{${coins}, plural, one {One coin} other {# coins}}` }] },
        ],
      },
    ],
    choices: [
      { id: 'ask', text: 'Ask', when: `!${known}`, do: [`${known} = true`], to: `s${s}.talk${(b + 1) % 6}` },
      {
        id: 'light',
        text: 'Light it',
        once: b === 0,
        closed: 'show',
        when: `${lamp} == 'dark' && ${coins} > 0`,
        do: [`${lamp} = 'lit'`],
        to: 'return',
      },
      {
        id: 'on',
        text: 'On',
        to: [
          { when: `${quest} == 'asked' && taken('s${s}.talk0.light')`, do: [`${quest} = 'done'`], to: `s${s}.hub` },
          { to: 'return' },
        ],
      },
    ],
  })
  const next = s + 1 < SCENES ? `s${s + 1}.hub` : 'last.home'
  return {
    id: `s${s}`,
    title: `Scene ${s}`,
    ledger: [{ id: lamp, kind: 'switch', positions: ['dark', 'lit'] }],
    beats: [
      {
        id: 'hub',
        place: true,
        lines: [{ text: `Scene ${s}.` }],
        choices: [
          {
            id: 'warden',
            who: 'warden',
            text: 'Talk',
            to: [{ when: `atLeast(${quest}, 'done')`, to: `s${s}.talk1` }, { to: `s${s}.talk0` }],
          },
          {
            id: 'begin',
            text: 'Begin',
            when: `${quest} == 'unstarted'`,
            do: [`${quest} = 'asked'`],
            to: `s${s}.talk2`,
          },
          {
            id: 'fail',
            text: 'Give up',
            when: `${quest} == 'asked' && ${coins} < 2`,
            do: [`${quest} = 'lost'`],
            to: next,
          },
          { id: 'on', text: 'Go on', when: `${quest} in ['done', 'lost']`, to: next },
        ],
        onward: [{ to: 'last.away' }],
      },
      { id: 'ask', ask: { into: 'name', prompt: 'Name?', suggest: ['Wren'] }, onward: [{ to: `s${s}.hub` }] },
      ...Array.from({ length: 6 }, (_, b) => talk(b)),
    ],
  }
}

/** Step by step; each takes a few milliseconds. */
export function* warmUp(): Generator<void, void> {
  let story = warmUpStory()
  let linked: ReturnType<typeof linkStory> | undefined
  let before: Survey | undefined
  for (let round = 0; round < ROUNDS; round += 1) {
    // anew, then after edits
    const isNew = round % 3 === 0
    linked = linkStory(isNew ? structuredClone(story) : story, isNew ? undefined : linked)
    yield
    const survey: Survey = new Survey(linked, { routes: 'none' }, isNew ? undefined : before)
    yield
    while (!survey.advance(STATES)) yield
    survey.brief()
    yield
    new Bearings(survey).of(`s${round % SCENES}.hub`)
    before = survey
    const at = 2 + (round % 6)
    const beat = story.scenes[round % SCENES]!.beats[at]!
    const edited = applyChange(story, {
      op: 'replace',
      in: { list: 'beats', scene: `s${round % SCENES}` },
      at,
      id: beat.id,
      item: {
        ...beat,
        choices: beat.choices!.map((choice) => ({
          ...choice,
          when: choice.when === undefined ? undefined : `(${choice.when})`,
        })),
      },
    })
    if (edited.ok) ({ story } = edited.value)
    yield
  }
}
