import type { Change } from '../src/core/story/changes/types'
import type { Story } from '../src/core/story/types'
import type { PendingChange, RefusedChange } from '../src/session/pending'

/** A story to be kept in step, for tests of that. */
export const story: Story = {
  paperCompass: 1,
  title: 'In step',
  language: 'en',
  start: 'quay.here',
  scenes: [{ id: 'quay', title: 'Quay', beats: [{ id: 'here' }] }],
}
export const insert = (id: string): Change => ({
  op: 'insert',
  in: { list: 'beats', scene: 'quay' },
  at: 99,
  item: { id },
})
export const beatsOf = ({ scenes }: Story) => scenes[0]!.beats.map(({ id }) => id)

/** What a window keeps of its edits, in memory. */
export class Store {
  kept: readonly PendingChange[] = []
  adopt = () => [...this.kept]
  write = (pending: readonly PendingChange[]) => void (this.kept = pending)
  setAside: readonly RefusedChange[] = []
  refused = () => [...this.setAside]
  writeRefused = (refused: readonly RefusedChange[]) => void (this.setAside = refused)
}
