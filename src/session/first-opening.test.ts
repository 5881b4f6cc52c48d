import { jest } from '@jest/globals'
import { openingScript, openStory } from './first-opening'

test('what the page asked for while it was loaded is taken once, by whoever opens that story', async () => {
  const asked: string[] = []
  const before = { fetch: globalThis.fetch, self: globalThis.self }
  const none = () => Promise.resolve(new Response('{"message":"no such story"}', { status: 404 }))
  globalThis.fetch = jest.fn((path: string) => {
    asked.push(path)
    return none()
  }) as never
  globalThis.self = globalThis as never
  const load = (id: string) => (0, eval)(openingScript(id))
  try {
    // an address can be anything
    const odd = `x"'</script><b>`
    load(odd)
    expect(openingScript(odd)).not.toContain('<')
    expect(asked).toEqual([`/api/stories/${encodeURIComponent(odd)}`])
    expect(await openStory(odd)).toMatchObject({ ok: false, error: { message: 'no such story' } })
    expect(asked).toHaveLength(1)
    await openStory(odd)
    expect(asked).toHaveLength(2)
    load('causeway')
    await openStory('other')
    await openStory('causeway')
    expect(asked.slice(2)).toEqual(['/api/stories/causeway', '/api/stories/other', '/api/stories/causeway'])
    // the server was away while the page was loaded
    globalThis.fetch = jest.fn(() => Promise.reject(new Error('away')))
    load('causeway')
    expect(await openStory('causeway')).toMatchObject({ ok: false, error: { kind: 'away' } })
  } finally {
    Object.assign(globalThis, before)
  }
})
