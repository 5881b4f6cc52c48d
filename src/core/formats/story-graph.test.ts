import { spawnSync } from 'node:child_process'
import { MultiDirectedGraph } from 'graphology'
import { parse } from 'graphology-graphml'
import { seededRandom } from '../base/random'
import { ROAD_KINDS } from '../story/roads'
import { writeDot } from './story-dot/write'
import type { StoryGraph } from './story-graph'
import { writeGraphml } from './story-graphml/write'

/** Words that formats have meanings for. */
const ODD = [
  'plain',
  'a "quote"',
  'back\\slash',
  'two\nlines',
  '<tag> & amp',
  'ünï → ✓',
  '\u0000\u0007bell',
  '{record|shape}',
  '',
  '\\N',
  '漢字',
]

function randomGraph(seed: number): StoryGraph {
  const random = seededRandom(seed)
  const beats = Array.from({ length: 1 + random.below(12) }, (_, at) => ({
    id: `s${at % 3}.b${at}`,
    title: random.pick(ODD),
    scene: ['Quay', 'a "mill"', '<pans> & \\more'][at % 3]!,
    distance: random.chance(0.2) ? undefined : at,
    verdict: random.pick(['reached', 'unreached', 'undecided'] as const),
    words: random.below(90),
    isEnding: random.chance(0.2),
    isPlace: random.chance(0.2),
    isStart: at === 0,
  }))
  const roads = Array.from({ length: random.below(20) }, (_, at) => ({
    id: `${beats[0]!.id}.c${at}`,
    from: random.pick(beats).id,
    to: random.pick(beats).id,
    kind: random.pick(ROAD_KINDS),
    text: random.pick(ODD),
    gate: random.pick(['', "name == 'x' && tide < 3"]),
    effects: random.pick(['', 'tide -= 1; rope += 1']),
    taken: random.pick(['yes', 'never', 'undecided'] as const),
  }))
  return { title: random.pick(ODD), beats, roads }
}

const kept = (text: string) => text.replace(/[\u0000-\u0008]/g, '')

test('GraphML is read by a graph library as just these beats and roads', () => {
  for (let seed = 1; seed <= 40; seed += 1) {
    const graph = randomGraph(seed)
    const read = parse(MultiDirectedGraph, writeGraphml(graph))
    expect(read.nodes()).toEqual(graph.beats.map(({ id }) => id))
    for (const beat of graph.beats) {
      const { title, scene, words, verdict, ending, start } = read.getNodeAttributes(beat.id)
      expect({ title: title ?? '', scene, words, verdict, ending, start }).toEqual({
        title: kept(beat.title),
        scene: beat.scene,
        words: beat.words,
        verdict: beat.verdict,
        ending: beat.isEnding,
        start: beat.isStart,
      })
    }
    expect(read.size).toBe(graph.roads.length)
    const roads = graph.roads.map(({ from, to, kind, gate, taken }) => ({ from, to, kind, gate, taken }))
    const found = read.mapEdges((_, { kind, gate, taken }, from, to) => ({ from, to, kind, gate: gate ?? '', taken }))
    expect(found).toEqual(expect.arrayContaining(roads))
  }
})

test('DOT is drawn by Graphviz, with every beat and road in it', () => {
  for (let seed = 1; seed <= 12; seed += 1) {
    const graph = randomGraph(seed)
    const dot = spawnSync('dot', ['-Tplain'], { input: writeDot(graph), encoding: 'utf8' })
    expect(dot.error).toBeUndefined()
    expect({ seed, status: dot.status, said: dot.stderr.includes('syntax error') }).toEqual({
      seed,
      status: 0,
      said: false,
    })
    const lines = dot.stdout.replaceAll('\\\n', '').split('\n')
    expect(lines.filter((line) => line.startsWith('node ')).length).toBe(graph.beats.length)
    expect(lines.filter((line) => line.startsWith('edge ')).length).toBe(graph.roads.length)
  }
})
