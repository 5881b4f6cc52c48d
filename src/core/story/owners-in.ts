import type { Part } from './reshape/patch-part'
import { isGroup, type Beat } from './types'

/** Everything in a beat that can have a gate or effects, with its address, in document order. */
export function ownersIn(scene: string, beat: Beat): { readonly address: string; readonly part: Part }[] {
  const own = `${scene}.${beat.id}`
  const rules = (list: readonly Part[] | undefined, name: string) =>
    (list ?? []).map((part, at) => ({ address: `${own}#${name}${at + 1}`, part }))
  return [
    ...rules(beat.redirects, 'redirect'),
    ...rules(beat.arrive, 'arrive'),
    ...(beat.lines ?? []).flatMap((line, at) => {
      const address = `${own}#line${at + 1}`
      if (!isGroup(line)) return [{ address, part: line }]
      return line.firstOf.flatMap((variant, index) => [
        { address: `${address}.variant${index + 1}`, part: variant },
        ...variant.lines.map((inner, number) => ({
          address: `${address}.variant${index + 1}.line${number + 1}`,
          part: inner,
        })),
      ])
    }),
    ...(beat.choices ?? []).flatMap((choice) => [
      { address: `${own}.${choice.id}`, part: choice },
      ...(typeof choice.to === 'string'
        ? []
        : choice.to.map((rule, at) => ({ address: `${own}.${choice.id}#${at + 1}`, part: rule }))),
    ]),
    ...rules(beat.onward, 'onward'),
  ]
}
