import { fileName } from './file-name'

test('a file is called after its title; titles without Latin letters get names of their own', () => {
  expect(fileName('The Causeway: a draft?', 'x1', '.json')).toEqual({
    ascii: 'The_Causeway_a_draft.json',
    full: 'The Causeway a draft.json',
  })
  expect(fileName('Crème brûlée', 'x1', '.json').ascii).toBe('Creme_brulee.json')
  const [one, two] = [fileName('東の桟橋', 'a1', '.json'), fileName('西の桟橋', 'b2', '.json')]
  expect([one.ascii, two.ascii]).toEqual(['a1.json', 'b2.json'])
  expect(one.full).toBe('東の桟橋.json')
  expect(fileName('Мост 7', 'c3', '.json').ascii).toBe('7_c3.json')
  for (const title of ['', '...', '\0\n', '\ud800', '/\\:*?"<>|', '\u202e\u202e']) {
    const { ascii, full } = fileName(title, 'd4', '.json')
    expect([ascii, full]).toEqual(['d4.json', 'd4.json'])
  }
  const long = fileName('🧭'.repeat(10_000), 'e5', '.json')
  expect(long.full.isWellFormed()).toBe(true)
  expect([...long.full].length).toBeLessThan(100)
})
