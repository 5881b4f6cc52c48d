import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { FORMS } from '../src/core/formats/forms'
import { formsTable } from '../src/core/formats/forms-table'

test('the list of forms in the docs is the one of the program', () => {
  const docs = readFileSync(join(import.meta.dirname, '../docs/forms.md'), 'utf8')
  const [, table] = /<!-- forms -->\n\n([^]*?)\n\n<!-- \/forms -->/.exec(docs)!
  expect(table).toBe(formsTable(FORMS))
})
