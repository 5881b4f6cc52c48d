import { freshId } from '../../base/ids'
import { fail, ok, type Result } from '../../base/result'
import type { Change } from '../changes/types'
import { Rewriter } from '../rename/rewrite'
import type { Story } from '../types'

/** One change that puts a beat at a place in a scene, its own or another; whatever names it follows. */
export function moveBeat(
  story: Story,
  from: { readonly scene: string; readonly id: string },
  to: { readonly scene: string; readonly at: number },
): Result<{ readonly change: Change; readonly address: string }> {
  const source = story.scenes.find(({ id }) => id === from.scene)
  const target = story.scenes.find(({ id }) => id === to.scene)
  const index = source?.beats.findIndex(({ id }) => id === from.id) ?? -1
  if (source === undefined || target === undefined || index === -1)
    return fail('the beat or the scene is not there any more')
  if (source === target) {
    return ok({
      change: { op: 'move', in: { list: 'beats', scene: from.scene }, id: from.id, at: index, to: to.at },
      address: `${from.scene}.${from.id}`,
    })
  }
  const id = freshId(from.id, (taken) => target.beats.some((beat) => beat.id === taken))
  const before = `${from.scene}.${from.id}`
  const after = `${to.scene}.${id}`
  const rewriter = new Rewriter({
    address: (address) =>
      address === before || address.startsWith(`${before}.`) ? after + address.slice(before.length) : address,
  })
  const item = { ...rewriter.beat(source.beats[index]!), id }
  const rest = rewriter
    .changes(story)
    .filter(
      (change) =>
        !(
          change.op === 'replace' &&
          change.in.list === 'beats' &&
          change.in.scene === from.scene &&
          change.id === from.id
        ),
    )
  return ok({
    change: {
      op: 'batch',
      changes: [
        ...rest,
        { op: 'remove', in: { list: 'beats', scene: from.scene }, id: from.id, at: index },
        { op: 'insert', in: { list: 'beats', scene: to.scene }, at: to.at, item },
      ],
    },
    address: after,
  })
}
