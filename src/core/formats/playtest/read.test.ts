import { readPlayRecord } from './read'

test('a file that is no record is refused with what is wrong in it', () => {
  const sound = {
    paperCompassPlaytest: 1,
    story: 'x',
    version: '1',
    title: 'A quay',
    language: 'en',
    steps: [{ item: { choice: 'quay.here.go' }, at: 'quay.here', seconds: 1.5 }],
    stopped: { at: 'quay.end', status: 'ended', ending: 'across', seconds: 2 },
  }
  const said = (text: string) => {
    const read = readPlayRecord(text)
    return read.ok ? 'read' : read.error
  }
  expect(said(JSON.stringify(sound))).toBe('read')
  expect(said(`\uFEFF${JSON.stringify(sound)}`)).toBe('read')
  expect(said('{')).toMatch(/^this is no record of a playtest: it is not JSON/)
  expect(said(JSON.stringify({ ...sound, paperCompassPlaytest: 2 }))).toMatch(/expected "paperCompassPlaytest": 1/)
  expect(said(JSON.stringify({ ...sound, steps: [{ item: { fly: 1 }, at: 'x', seconds: 1 }] }))).toMatch(
    /steps\[0\]\.item/,
  )
  expect(said(JSON.stringify({ ...sound, steps: [{ ...sound.steps[0], seconds: -1 }] }))).toMatch(/steps\[0\]\.seconds/)
  expect(said('['.repeat(5000) + ']'.repeat(5000))).toMatch(/nested too deep/)
})
