import { beatOf, inBeat, ownerOf, parseAddress, parseStage, printAddress } from './address'

const ADDRESSES = [
  'quay.morning',
  'quay.morning.pay',
  'quay.morning.pay#2',
  'quay.morning#redirect1',
  'quay.morning#arrive12',
  'quay.morning#onward3',
  'quay.morning#line2',
  'quay.morning#line2.variant1',
  'quay.morning#line2.variant10.line1',
]

test('what is taken apart is put together again', () => {
  for (const text of ADDRESSES) {
    const address = parseAddress(text)!
    expect({ text, again: printAddress(address) }).toEqual({ text, again: text })
    expect(beatOf(text)).toBe('quay.morning')
    expect(ownerOf(text)).toBe(text.split('#')[0])
    expect(address.choice).toBe(text.includes('pay') ? 'pay' : undefined)
    expect(inBeat(text, { scene: 'flats', beat: 'walk' })).toBe(text.replace('quay.morning', 'flats.walk'))
  }
})

test('what is no address is not taken for one', () => {
  for (const text of [
    '',
    'quay',
    'quay.',
    '.morning',
    'quay.morning.pay.more',
    'quay.morning#',
    'quay.morning#2',
    'quay.morning#line0',
    'quay.morning#lines2',
    'quay.morning#line2.',
    'Quay.morning',
    'start',
  ])
    expect({ text, address: parseAddress(text) }).toEqual({ text, address: undefined })
})

test('stages have addresses of two parts', () => {
  expect(parseStage('sluice.asked')).toEqual({ quest: 'sluice', stage: 'asked' })
  expect(parseStage('sluice')).toBeUndefined()
  expect(parseStage('a.b.c')).toBeUndefined()
})
