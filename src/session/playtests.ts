import { readPlayRecord } from '../core/formats/playtest/read'
import type { KeptPlaytest } from '../core/contract/answers'
import { api } from './api'

/** Records of how somebody played, as they are kept with a story. */
export class Playtests {
  constructor(
    private readonly story: string,
    private readonly page: {
      readonly known: (playtests: readonly KeptPlaytest[]) => void
      /** Says something on the page. */
      readonly tell: (notice: string) => void
    },
  ) {}

  /** Reads which playtests are kept with the story. */
  async read(): Promise<void> {
    const kept = await api.playtests(this.story)
    if (kept.ok) this.page.known(kept.value)
    else this.page.tell(`The playtests could not be read. ${kept.error.message}`)
  }

  /** Keeps records of how somebody played; says what became of them. */
  async add(files: readonly File[]): Promise<void> {
    let added = 0
    const said: string[] = []
    for (const file of files) {
      const { name } = file
      const record = readPlayRecord(await file.text())
      if (!record.ok) {
        said.push(`“${name}”: ${record.error}`)
        continue
      }
      const kept = await api.addPlaytest(this.story, name.replace(/(\.playtest)?\.json$/i, ''), record.value)
      if (!kept.ok) said.push(`“${name}” was not kept: ${kept.error.message}`)
      else if (kept.value.added) added += 1
      else said.push(`“${name}” is there already.`)
    }
    await this.read()
    if (added > 0)
      said.unshift(
        `${added === 1 ? 'A playtest was' : `${added} playtests were`} added: see Bearings, simulated players.`,
      )
    if (said.length > 0) this.page.tell(said.join(' '))
  }

  /** Deletes one. */
  async remove(playtest: string): Promise<void> {
    const removed = await api.removePlaytest(this.story, playtest)
    if (!removed.ok) this.page.tell(`The playtest is still there. ${removed.error.message}`)
    await this.read()
  }
}
