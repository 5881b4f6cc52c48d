import { neverTaken, sayValues } from './say-values'

test('numbers that follow one another are told as a range, pairs and gaps one by one', () => {
  expect(sayValues([0, 1, 2, 3])).toBe('0 to 3')
  expect(sayValues([0, 1, 3, 4, 5, 9])).toBe('0, 1, 3 to 5, 9')
  expect(sayValues([-2, -1, 0])).toBe('-2 to 0')
  expect(sayValues([false, true])).toBe('no, yes')
  expect(sayValues(['', 'Wren'])).toBe('empty, Wren')
  expect(sayValues([])).toBe('')
})

test('what was declared and never occurs', () => {
  const taken = (...values: (boolean | number | string)[]) => ({ values, anyWord: false })
  expect(neverTaken({ id: 'tide', kind: 'counter', min: 0, max: 4 }, taken(0, 2, 4))).toEqual([1, 3])
  expect(neverTaken({ id: 'lamp', kind: 'switch', positions: ['dark', 'lit'] }, taken('dark'))).toEqual(['lit'])
  // too many to be told one by one
  expect(neverTaken({ id: 'coins', kind: 'counter', min: 0, max: 9_999 }, taken(0))).toEqual([])
  expect(neverTaken({ id: 'name', kind: 'text' }, taken(''))).toEqual([])
})
