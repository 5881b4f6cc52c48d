import { quay } from '../../test/quay'
import { entryName, itemName, sayAddress, sayValue, storyNames, thingName } from './names'

const story = quay(
  [
    { id: 'here', title: 'On the quay', choices: [{ id: 'cross_over', text: 'Cross', to: 'quay.there' }] },
    { id: 'there', ending: 'across' },
  ],
  {
    ledger: [{ id: 'tide_mark', kind: 'counter', min: 0, max: 3, name: 'The tide' }],
    cast: [{ id: 'odile', name: 'Odile' }],
    cues: [{ id: 'bell', name: 'A bell' }],
    quests: [{ id: 'sluice', name: 'Mend the sluice', stages: [{ id: 'asked', name: 'Asked for help', journal: '' }] }],
  },
)
const own = quay([{ id: 'here' }], {
  scenes: [{ id: 'quay', title: ' ', ledger: [{ id: 'wet_feet', kind: 'flag' }], beats: [{ id: 'here' }] }],
})

test('values are read as words', () => {
  expect([true, false, '', 'low_water', 3].map(sayValue)).toEqual(['yes', 'no', 'empty', 'low water', '3'])
})

test('things are called by their names, and by what their ids say where they have none', () => {
  const names = storyNames(story)
  expect(names.entry('tide_mark')).toBe('The tide')
  expect(entryName(own, 'wet_feet')).toBe('wet feet')
  expect([names.quest('sluice'), names.quest('old_debt')]).toEqual(['Mend the sluice', 'old debt'])
  expect(['asked', 'unstarted', 'half_done'].map((stage) => names.stage('sluice', stage))).toEqual([
    'Asked for help',
    'not started',
    'half done',
  ])
  expect([names.beat('quay.here'), names.beat('quay.there')]).toEqual(['On the quay', 'there'])
  expect([names.choice('quay.here.cross_over'), names.choice('quay.here.turn_back')]).toEqual(['“Cross”', 'turn back'])
  expect([names.ending('across'), names.ending('lost_at_sea')]).toEqual(['“Across”', '“lost at sea”'])
  expect([itemName(story, 'endings', 'across'), itemName(story, 'stages', 'sluice.asked')]).toEqual([
    'Across',
    'Mend the sluice: Asked for help',
  ])
  expect([itemName(story, 'endings', 'gone'), itemName(story, 'stages', 'gone.far')]).toEqual(['gone', 'gone: far'])
})

test('an address is read from the whole to the part', () => {
  expect(sayAddress('quay.here#onward2', story)).toBe('Quay · On the quay, onward 2')
  expect(sayAddress('quay.here.cross_over#1', story)).toBe('Quay · On the quay · “Cross”, road 1')
  expect(sayAddress('quay.here#line2.variant1', story)).toBe('Quay · On the quay, line 2, variant 1')
  expect(sayAddress('quay.low_tide.wade_out')).toBe('quay · low tide · wade out')
  expect(sayAddress('quay.here', own)).toBe('quay · here')
  expect(sayAddress('tide_mark', story)).toBe('tide mark')
})

test('whatever has a name is called by it, and by its id once it is gone', () => {
  expect([
    thingName(story, { of: 'scene', id: 'quay' }),
    thingName(story, { of: 'person', id: 'odile' }),
    thingName(story, { of: 'quest', id: 'sluice' }),
    thingName(story, { of: 'cue', id: 'bell' }),
    thingName(story, { of: 'ending', id: 'across' }),
    thingName(story, { of: 'stage', quest: 'sluice', id: 'asked' }),
    thingName(story, { of: 'person', id: 'wren' }),
    thingName(story, { of: 'cue', id: 'horn' }),
  ]).toEqual([
    'Quay',
    'Odile',
    'Mend the sluice',
    'A bell',
    'Across',
    'Mend the sluice: Asked for help',
    'wren',
    'horn',
  ])
})
