import { escapeXml } from '../../base/xml'
import type { StoryGraph } from '../story-graph'

const KEYS = {
  node: {
    title: 'string',
    scene: 'string',
    distance: 'int',
    verdict: 'string',
    words: 'int',
    ending: 'boolean',
    place: 'boolean',
    start: 'boolean',
  },
  edge: { kind: 'string', text: 'string', gate: 'string', effects: 'string', taken: 'string' },
} as const

/** A story's beats and roads as GraphML (http://graphml.graphdrawing.org, 1.0), with all that is known of them as data. */
export function writeGraphml({ title, beats, roads }: StoryGraph): string {
  const keys = (['node', 'edge'] as const).flatMap((of) =>
    Object.entries(KEYS[of]).map(
      ([name, type]) => `  <key id="${of}_${name}" for="${of}" attr.name="${name}" attr.type="${type}"/>`,
    ),
  )
  const data = (of: 'node' | 'edge', values: Readonly<Record<string, string | number | boolean | undefined>>) =>
    Object.entries(values)
      .filter(([, value]) => value !== undefined)
      .map(([name, value]) => `<data key="${of}_${name}">${escapeXml(String(value))}</data>`)
      .join('')
  const nodes = beats.map(
    ({ id, title: name, scene, distance, verdict, words, isEnding, isPlace, isStart }) =>
      `    <node id="${escapeXml(id)}">${data('node', { title: name, scene, distance, verdict, words, ending: isEnding, place: isPlace, start: isStart })}</node>`,
  )
  const edges = roads.map(
    ({ id, from, to, kind, text, gate, effects, taken }) =>
      `    <edge id="${escapeXml(id)}" source="${escapeXml(from)}" target="${escapeXml(to)}">${data('edge', { kind, text, gate, effects, taken })}</edge>`,
  )
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<graphml xmlns="http://graphml.graphdrawing.org/xmlns">',
    ...keys,
    `  <graph id="${escapeXml(title)}" edgedefault="directed">`,
    ...nodes,
    ...edges,
    '  </graph>',
    '</graphml>',
    '',
  ].join('\n')
}
