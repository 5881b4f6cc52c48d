import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { join, relative, resolve } from 'node:path'
import { MEMBER_OPERATIONS } from '../../src/core/contract/member-operations'
import { expect, openStory, test } from './app'
import { described, fits, routes } from './described'
import { quay } from '../quay'

test('every route is described, and nothing else is', () => {
  const found: string[] = []
  for (const file of routes(resolve('src/app/api'))) {
    const path = `/api/${relative(resolve('src/app/api'), join(file, '..')).replaceAll(/\[(\w+)\]/g, '{$1}')}`
    for (const [, method] of readFileSync(file, 'utf8').matchAll(/export const (GET|POST|DELETE)/g))
      found.push(`${method!.toLowerCase()} ${path}`)
  }
  const told = Object.entries(described.paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method} ${path}`),
  )
  expect(told.sort()).toEqual(found.sort())
})

const story = quay(
  [
    {
      id: 'here',
      lines: [{ id: 'first', text: 'The tide.' }],
      choices: [{ id: 'go', text: 'Go', to: 'quay.end' }],
    },
    { id: 'end', ending: 'across' },
  ],
  {
    title: 'Asked over HTTP',
    routes: [{ id: 'first', name: 'First', decisions: [{ choice: 'quay.here.go' }] }],
    languages: { de: { texts: { 'line/quay.here/first': { text: 'Die Flut.', state: 'checked' } } } },
  },
)

test('the running server answers as its description says, refusals too', async ({ page, app }) => {
  const id = await openStory(page, app, story)
  const asked = new Set<string>()
  const ask = async (method: string, template: string, path: string, body?: unknown, status = 200) => {
    const answer = await fetch(app.address + path, {
      method: method.toUpperCase(),
      ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    })
    const told = described.paths[template]![method]!
    expect([path, answer.status]).toEqual([path, status])
    expect(Object.keys(told.responses)).toContain(String(status))
    const type = answer.headers.get('content-type')!.split(';')[0]!
    expect(Object.keys(told.responses[status]!.content)).toContain(type)
    if (status === 200) asked.add(`${method} ${template}`)
    if (type !== 'application/json') return undefined
    const json = (await answer.json()) as Record<string, never>
    const place = `paths ${template} ${method} responses ${status} content ${type} schema`
    expect([path, fits(place, json)]).toEqual([path, null])
    return json
  }
  const S = '/api/stories/{id}'
  const own = (more = '') => `/api/stories/${id}${more}`
  const request = () => ({ request: randomUUID() })
  await ask('get', '/api/stories', '/api/stories?q=asked&order=title')
  await ask('get', '/api/stories', '/api/stories?order=colour', undefined, 400)
  const made = await ask('post', '/api/stories', '/api/stories', { title: 'By a script' })
  await ask('get', S, own())
  await ask('get', S, `/api/stories/${randomUUID()}`, undefined, 404)
  await ask('get', `${S}/export`, own('/export'))
  await ask('get', `${S}/bundle`, own('/bundle?without=unreached'))
  await ask('get', `${S}/bundle`, own('/bundle?without=notes'), undefined, 400)
  await ask('get', `${S}/page`, own('/page'))
  await ask('get', `${S}/chart`, own('/chart?format=scxml'))
  expect(await ask('get', `${S}/chart`, own('/chart?format=scxml&only=left'))).toEqual({ left: [] })
  await ask('get', `${S}/chart`, own('/chart?format=dot'), undefined, 400)
  await ask('get', `${S}/survey`, own('/survey?routes=all'))
  await ask('get', `${S}/survey`, own('/survey?budget=1000'), undefined, 400)
  const texts = await ask('get', `${S}/texts`, own('/texts?language=de'))
  expect(texts!['texts']).toContainEqual({
    key: 'line/quay.here/first',
    source: 'The tide.',
    text: 'Die Flut.',
    state: 'checked',
  })
  const po = await fetch(`${app.address}${own('/texts?language=de&format=po')}`)
  const read = await fetch(`${app.address}${own('/texts?format=po')}`, { method: 'POST', body: await po.blob() })
  const back = (await read.json()) as { texts: object[] }
  expect(fits(`paths ${S}/texts post responses 200 content application/json schema`, back)).toBeNull()
  expect(back.texts).toContainEqual(
    expect.objectContaining({ key: 'line/quay.here/first', text: 'Die Flut.', state: 'checked' }),
  )
  asked.add(`post ${S}/texts`)
  await ask('get', `${S}/search`, own('/search?q=tide'))
  await ask('get', `${S}/history`, own('/history'))
  const change = { op: 'set-story', values: { title: 'Asked and changed' } }
  await ask('post', `${S}/changes`, own('/changes'), { ...request(), change })
  await ask('post', `${S}/changes`, own('/changes'), { ...request(), change: { op: 'fly' } }, 422)
  await ask('post', `${S}/undo`, own('/undo'), { ...request(), anyones: true })
  await ask('post', `${S}/redo`, own('/redo'), { ...request(), anyones: true })
  await ask('post', `${S}/return`, own('/return'), { ...request(), revision: 0 })
  await ask('get', `${S}/at/{revision}`, own('/at/1'))
  await ask('post', `${S}/versions`, own('/versions'), { name: 'First' })
  const { versions } = (await ask('get', `${S}/history`, own('/history'))) as never as { versions: { id: string }[] }
  await ask('post', `${S}/versions/{version}`, own(`/versions/${versions[0]!.id}`), { isReleased: true })
  await ask('delete', `${S}/versions/{version}`, own(`/versions/${versions[0]!.id}`))
  const record = {
    paperCompassPlaytest: 1,
    story: 'x',
    version: '1',
    title: 'x',
    language: 'en',
    steps: [{ item: { choice: 'quay.here.go' }, at: 'quay.here', seconds: 1 }],
    stopped: { at: 'quay.end', status: 'ended', ending: 'across', seconds: 0 },
  }
  for (const form of ['xliff', 'po', 'xlsx', 'csv'])
    await ask('get', `${S}/texts`, own(`/texts?language=de&format=${form}&scene=quay`))
  await ask('get', `${S}/texts`, own('/texts?language=de&format=po&scene=gone'), undefined, 400)
  for (const form of ['docx', 'html', 'markdown', 'fountain'])
    for (const part of ['', '&scene=quay', '&ending=across', '&route=first'])
      await ask('get', `${S}/copy`, own(`/copy?format=${form}${part}`))
  for (const bad of ['', '?format=pdf', '?format=docx&scene=x', '?format=docx&route=x', '?format=docx&ending=x'])
    await ask('get', `${S}/copy`, own(`/copy${bad}`), undefined, 400)
  await ask('get', `${S}/voices`, own('/voices?language=de&person=narrator&scene=quay'))
  for (const form of ['xlsx', 'html']) await ask('get', `${S}/voices`, own(`/voices?format=${form}`))
  for (const bad of ['?format=mp3', '?language=!!', '?budget=0'])
    await ask('get', `${S}/voices`, own(`/voices${bad}`), undefined, 400)
  await ask('post', `${S}/voices`, own('/voices'), {}, 422)
  const script = await fetch(app.address + own('/voices?format=xlsx'))
  const readBack = await fetch(app.address + own('/voices'), {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: await script.arrayBuffer(),
  })
  expect([readBack.status, await readBack.json()]).toEqual([200, { 'quay.here.first': 'The tide.' }])
  asked.add(`post ${S}/voices`)
  await ask('post', '/api/manuscripts', '/api/manuscripts?format=markdown', { text: 'any' })
  await ask('post', '/api/manuscripts', '/api/manuscripts?format=docx', {}, 422)
  await ask('post', '/api/manuscripts', '/api/manuscripts?format=papyrus', {}, 400)
  await ask('post', `${S}/playtests`, own('/playtests'), { name: 'One', record })
  await ask('post', `${S}/playtests`, own('/playtests'), { name: 'One', record: { ...record, steps: 1 } }, 400)
  const kept = (await ask('get', `${S}/playtests`, own('/playtests'))) as never as { id: string }[]
  await ask('delete', `${S}/playtests/{playtest}`, own(`/playtests/${kept[0]!.id}`))
  const players = (plays: number) => ({ kind: 'simulate', plays, options: { player: { kind: 'random' }, seed: 1 } })
  const begin = async (plays: number) => String((await ask('post', `${S}/jobs`, own('/jobs'), players(plays)))!.id)
  const few = await begin(10)
  await expect(async () => {
    const { jobs } = (await ask('get', `${S}/jobs`, own('/jobs'))) as never as { jobs: { state: string }[] }
    expect(jobs[0]!.state).toBe('done')
  }).toPass()
  expect(await ask('get', `${S}/jobs/{job}`, own(`/jobs/${few}`))).toMatchObject({ plays: 10 })
  await ask('post', `${S}/jobs`, own('/jobs'), { kind: 'dig' }, 400)
  await ask('post', `${S}/jobs`, own('/jobs'), { kind: 'carry' }, 409)
  // while there is much to do a night waits
  const many = await begin(10_000_000)
  const night = String((await ask('post', '/api/nights', '/api/nights'))!.id)
  await ask('post', '/api/nights', '/api/nights', undefined, 409)
  await ask('get', '/api/nights', '/api/nights')
  await ask('delete', '/api/nights/{job}', `/api/nights/${night}`)
  await ask('delete', '/api/nights/{job}', `/api/nights/${night}`, undefined, 404)
  await ask('delete', `${S}/jobs/{job}`, own(`/jobs/${many}`))
  await ask('delete', `${S}/jobs/{job}`, own(`/jobs/${many}`), undefined, 404)
  const count = { reached: 1, of: 1 }
  const facts = {
    complete: true,
    endings: count,
    stages: count,
    errors: 0,
    warnings: 0,
    words: 2,
    todos: 0,
    languages: [],
  }
  await ask('post', `${S}/facts`, own('/facts'), { revision: 0, facts })
  await ask('post', `${S}/duplicate`, own('/duplicate'))
  const other = `/api/stories/${String(made!['id'])}`
  await ask('delete', S, other)
  await ask('post', `${S}/restore`, `${other}/restore`)
  const foreign = await fetch(app.address + own(), { headers: { Origin: 'http://elsewhere.example' } })
  expect([foreign.status, foreign.headers.get('content-type')]).toEqual([403, 'text/plain; charset=utf-8'])
  const events = await fetch(app.address + own('/events'))
  expect(events.headers.get('content-type')).toBe('text/event-stream')
  await events.body!.cancel()
  // all that is described was asked, but for the stream and the progress of an import that is over at once
  const all = Object.entries(described.paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method} ${path}`),
  )
  const members = MEMBER_OPERATIONS.map(({ method, path }) => `${method} ${path}`)
  expect(all.filter((one) => !asked.has(one)).sort()).toEqual(
    [`get ${S}/events`, 'get /api/imports/{id}', ...members].sort(),
  )
  // there are no accounts here
  for (const { method, path } of MEMBER_OPERATIONS) {
    const at = path.replace('{id}', id).replaceAll(/\{\w+\}/g, randomUUID())
    const body =
      method === 'post' ? { key: 'x', name: 'X', email: 'x@studio.example', password: 'words and words' } : undefined
    await ask(method, path, at, body, 404)
  }
})
