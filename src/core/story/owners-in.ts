import type { Part } from './reshape/patch-part'
import { isGroup, isInTurn, plainLinesIn, type Beat } from './types'

interface Owner {
  readonly address: string
  readonly part: Part
}

/** Everything in a beat that can have a gate or effects, with its address, in document order. */
export function ownersIn(scene: string, beat: Beat): Owner[] {
  const own = `${scene}.${beat.id}`
  const rules = (list: readonly Part[] | undefined, name: string) =>
    (list ?? []).map((part, at) => ({ address: `${own}#${name}${at + 1}`, part }))
  return [
    ...rules(beat.redirects, 'redirect'),
    ...rules(beat.arrive, 'arrive'),
    ...(beat.lines ?? []).flatMap((line, at): Owner[] => {
      const address = `${own}#line${at + 1}`
      const plain = plainLinesIn(line).map((one) => ({ address: `${address}${one.suffix}`, part: one.line }))
      if (isInTurn(line)) return [{ address, part: line }, ...plain]
      if (!isGroup(line)) return plain
      return line.firstOf.flatMap((variant, index) => {
        const own = `${address}.variant${index + 1}`
        return [{ address: own, part: variant }, ...plain.filter((one) => one.address.startsWith(`${own}.`))]
      })
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
