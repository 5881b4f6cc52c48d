import { randomStory } from '../../bench/stories/random'
import { linkStory } from '../core/story/link'
import type { Story } from '../core/story/types'
import { surveyStory } from '../core/survey/survey'
import { sayFinding } from './say-finding'
import { seeds } from '../../test/seeds'

const story: Story = {
  paperCompass: 1,
  title: 'Kettle',
  language: 'en',
  start: 'hill.foot',
  ledger: [{ id: 'lit', kind: 'flag' }],
  quests: [
    {
      id: 'kettle',
      name: 'The lost kettle',
      stages: [
        { id: 'accepted', name: 'Accepted' },
        { id: 'found', name: 'Found', outcome: 'success' },
      ],
    },
  ],
  endings: [{ id: 'home', name: 'Home again' }],
  scenes: [
    {
      id: 'hill',
      title: 'The hill',
      beats: [
        {
          id: 'foot',
          lines: [
            { firstOf: [{ when: 'true', lines: [{ text: 'Rain.' }] }, { lines: [{ text: 'The guard draws.' }] }] },
          ],
          choices: [
            { id: 'up', text: 'Go up to the lamp', to: '' },
            {
              id: 'push',
              text: 'Put your shoulder to it',
              when: 'true',
              do: ["quest.kettle = 'accepted'"],
              to: 'hill.top',
            },
            { id: 'odd', text: 'Ask the owl', when: 'owls > 1', to: 'hill.top' },
          ],
        },
        { id: 'top', title: 'At the top', ending: 'home' },
      ],
    },
  ],
}

test('findings are told in the story’s own texts and titles', () => {
  const said = surveyStory(linkStory(story)).findings.map((finding) => sayFinding(story, finding))
  expect(said).toEqual(
    expect.arrayContaining([
      '“Go up to the lamp” leads nowhere yet',
      'The condition on “Put your shoulder to it” is always true here, so it does nothing',
      'Variant 2 (“The guard draws.”) is never shown',
      'The story can end with “The lost kettle” unfinished (Accepted)',
      'The lost kettle never comes to “Found”',
      'Lit is remembered, and nothing asks for it',
      'The condition on “Ask the owl” is not understood: there is no ledger entry "owls"',
    ]),
  )
})

test('whatever is found is told in one sentence without an address', () => {
  for (const seed of seeds(80)) {
    const made = randomStory(seed)
    const addresses = new Set(made.scenes.flatMap(({ id, beats }) => beats.map((beat) => `${id}.${beat.id}`)))
    for (const finding of surveyStory(linkStory(made), { routes: 'none' }).findings) {
      const said = sayFinding(made, finding)
      expect(said.length).toBeGreaterThan(8)
      if (finding.kind === 'problem') continue
      for (const address of addresses) expect(said.split(/[\s“”]/)).not.toContain(address)
      expect(said).not.toMatch(/#|undefined|\{/)
    }
  }
})
