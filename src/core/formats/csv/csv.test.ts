import { seededRandom } from '../../base/random'
import { readCsv, writeCsv } from './csv'

test('no text begins like a formula in a spreadsheet, numbers stay numbers, and every table comes back as it was', () => {
  const random = seededRandom(1)
  const parts = ['=', '+', '-', '@', "'", '\t', '\r', '"', ',', '\n', 'x', '1', '1.5', ' ', 'é']
  for (let round = 0; round < 2000; round += 1) {
    const rows = Array.from({ length: 1 + random.below(3) }, () => [
      'first',
      ...Array.from({ length: 3 }, () => Array.from({ length: random.below(5) }, () => random.pick(parts)).join('')),
    ])
    const text = writeCsv(rows)
    expect(readCsv(text)).toEqual(rows)
  }
  expect(writeCsv([['=1+1', '-5', -5, '@x', '+1', "'=x", '-x']])).toBe(`"'=1+1",-5,-5,"'@x",+1,"''=x","'-x"`)
})
