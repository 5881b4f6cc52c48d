import { strToU8, unzipSync, zipSync } from 'fflate'
import { randomStory } from '../../../bench/stories/random'
import { seededRandom, type Random } from '../base/random'
import { manuscriptCopy } from '../reading/manuscript'
import { linkStory } from '../story/link'
import { textRows } from '../texts/rows'
import { formsFor } from './forms'
import { portOf } from './ports'
import { bytesOf, written } from '../../../test/written'

const MADE = new Date(0)
const story = linkStory(randomStory(7))

/** A file with something cut off, put in, turned round or doubled; of an archive also inside. */
function damaged(file: Uint8Array, random: Random): Uint8Array {
  const at = random.below(file.length)
  const kind = random.below(5)
  if (kind === 0) return file.slice(0, at)
  if (kind === 1) return new Uint8Array([...file.slice(0, at), ...file.slice(Math.min(file.length, at + 40))])
  if (kind === 2) return new Uint8Array([...file.slice(0, at), ...file.slice(0, at), ...file.slice(at)])
  if (kind === 3 && file[0] === 0x50 && file[1] === 0x4b) {
    const inside = unzipSync(file)
    const names = Object.keys(inside).filter((name) => inside[name]!.length > 0)
    const name = names[random.below(names.length)]!
    return zipSync({ ...inside, [name]: damaged(inside[name]!, random) })
  }
  const copy = file.slice()
  for (let step = 0; step < 12; step += 1) copy[random.below(copy.length)] = random.below(256)
  return copy
}

test('no damage to a file makes a reader fail otherwise than by a reason', async () => {
  const random = seededRandom(11)
  const rows = textRows(story, 'de')
  const files: { id: string; read: (bytes: Uint8Array) => unknown; file: Uint8Array }[] = []
  for (const form of formsFor('texts')) {
    const { write, read } = await portOf('texts', form)
    files.push({
      id: form.id,
      read,
      file: bytesOf(written(await write({ title: 'x', language: 'de', own: 'en', made: MADE }, rows))),
    })
  }
  const copies = new Map<string, Uint8Array>()
  for (const form of formsFor('copy'))
    copies.set(form.id, bytesOf(await (await portOf('copy', form))(manuscriptCopy(story, MADE))))
  for (const form of formsFor('manuscript')) {
    const file = copies.get(form.id) ?? files.find(({ id }) => id === form.id)?.file ?? strToU8('ODILE\nWho?\n- Go')
    files.push({ id: form.id, read: await portOf('manuscript', form), file })
  }
  for (const form of formsFor('proofs'))
    files.push({ id: form.id, read: await portOf('proofs', form), file: copies.get(form.id)! })
  for (const { id, read, file } of files)
    for (let round = 0; round < 40; round += 1) {
      const result = (await read(damaged(file, random))) as { ok: boolean; error?: string }
      if (result.ok) continue
      expect({ id, error: result.error }).toEqual({ id, error: expect.stringMatching(/^.{10,300}$/) })
    }
})
