import type { RoadKind } from '../../story/roads'
import type { GraphBeat, StoryGraph } from '../story-graph'

const STYLES: Readonly<Record<RoadKind, string>> = {
  choice: 'solid',
  encounter: 'solid',
  redirect: 'dashed',
  onward: 'dotted',
  return: 'dotted',
}

/** A story's beats and roads as DOT, the language of Graphviz: a cluster a scene, from left to right. */
export function writeDot({ title, beats, roads }: StoryGraph): string {
  const scenes = new Map<string, GraphBeat[]>()
  for (const beat of beats) {
    const list = scenes.get(beat.scene)
    if (list === undefined) scenes.set(beat.scene, [beat])
    else list.push(beat)
  }
  const clusters = [...scenes].flatMap(([scene, list], at) => [
    `  subgraph cluster_${at} {`,
    `    label=${quoted(scene)}`,
    ...list.map((beat) => `    ${quoted(beat.id)} [${attributes(beat)}]`),
    '  }',
  ])
  const edges = roads.map(({ from, to, kind, text, taken }) => {
    const of = [
      `style=${STYLES[kind]}`,
      ...(text === '' ? [] : [`label=${quoted(text)}`]),
      ...(kind === 'encounter' ? ['arrowtail=odiamond', 'dir=both'] : []),
      ...(taken === 'never' ? ['color=red', 'arrowhead=tee'] : []),
    ]
    return `  ${quoted(from)} -> ${quoted(to)} [${of.join(', ')}]`
  })
  return [
    `digraph ${quoted(title)} {`,
    '  rankdir=LR',
    '  node [shape=plaintext]',
    ...clusters,
    ...edges,
    '}',
    '',
  ].join('\n')
}

function attributes({ title, distance, verdict, isEnding, isStart }: GraphBeat): string {
  const where = distance === undefined ? '' : ` (after ${distance})`
  return [
    `label=${quoted(`${title}${where}`)}`,
    ...(isEnding ? ['shape=doubleoctagon'] : isStart ? ['shape=cds'] : []),
    ...(verdict === 'unreached' ? ['fontcolor=red'] : []),
  ].join(', ')
}

/** A quoted string: inside it a quotation mark is escaped, and a backslash too, which Graphviz reads as its own. */
function quoted(text: string): string {
  return `"${text
    .toWellFormed()
    .replaceAll('\0', '')
    .replaceAll('\\', '\\\\')
    .replaceAll('"', '\\"')
    .replace(/\r?\n/g, '\\n')}"`
}
