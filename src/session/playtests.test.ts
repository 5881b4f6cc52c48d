import { jest } from '@jest/globals'
import type { KeptPlaytest } from '../core/contract/answers'
import { Playtests } from './playtests'

const RECORD = { paperCompass: 'playtest', version: 1 }

/** Playtests of a story whose server answers so, what was said on the page, and what is known to be kept. */
function page(answer: (method: string, path: string) => Response) {
  const said: string[] = []
  const known: (readonly KeptPlaytest[])[] = []
  jest.spyOn(globalThis, 'fetch').mockImplementation(async (path, init) => answer(init?.method ?? 'GET', String(path)))
  return {
    said,
    known,
    playtests: new Playtests('quay', { known: (kept) => known.push(kept), tell: (notice) => said.push(notice) }),
  }
}

const file = (name: string, content: unknown) =>
  new File([typeof content === 'string' ? content : JSON.stringify(content)], name)

afterEach(() => jest.restoreAllMocks())

test('a file that is no record is told of by its name, nothing of it is sent, and what is kept is read again', async () => {
  const sent: string[] = []
  const { playtests, said, known } = page((method, path) => {
    sent.push(`${method} ${path}`)
    return Response.json([])
  })
  await playtests.add([file('notes.txt', 'no record'), file('half.playtest.json', RECORD)])
  expect(said).toHaveLength(1)
  expect(said[0]).toMatch(/“notes\.txt”: .+ “half\.playtest\.json”: /)
  expect(sent).toEqual(['GET /api/stories/quay/playtests'])
  expect(known).toEqual([[]])
})

test('a server that refuses is told of, and nothing is taken for kept', async () => {
  const { playtests, said, known } = page(() => Response.json({ error: 'the disk is full' }, { status: 507 }))
  await playtests.read()
  await playtests.remove('one')
  expect(said[0]).toMatch(/^The playtests could not be read\. /)
  expect(said[1]).toMatch(/^The playtest is still there\. /)
  expect(known).toEqual([])
})
