import { mkdtemp, rm } from 'node:fs/promises'
import { cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import { fuzzExpression, fuzzStory, fuzzText } from './core'
import { Report } from './report'
import { fuzzEdits, fuzzFullDisk, fuzzImport, fuzzRequest, fuzzStart, Served } from './server'
import { randomStory } from '../../bench/stories/random'

/** Throws made-up inputs at every part for some minutes, and prints how many, and what went wrong. */
export async function fuzz(minutes: number, seed: number, log: string | undefined): Promise<number> {
  const report = new Report(log)
  const until = performance.now() + minutes * 60_000
  const served = await Served.start()
  const { id } = await served.import(randomStory(seed % 4000))
  // a folder of its own, which is only started and killed
  const kept = await mkdtemp(join(tmpdir(), 'paper-compass-starts-'))
  const first = await Served.start(kept)
  const { title } = randomStory(seed % 4000)
  await first.import(randomStory(seed % 4000))
  await first.end('SIGKILL')
  let at = seed * 1_000_003
  try {
    // each part has its turn, however short the time
    for (let round = 0; round < 3 || performance.now() < until; round += 1) {
      for (let times = 0; times < 60; times += 1) fuzzStory((at += 1), report)
      for (let times = 0; times < 400; times += 1) fuzzExpression((at += 1), report)
      for (let times = 0; times < 100; times += 1) fuzzText((at += 1), report)
      for (let times = 0; times < 60; times += 1) await fuzzRequest((at += 1), report, served, [id])
      for (let times = 0; times < 8; times += 1) await fuzzImport((at += 1), report, served)
      await fuzzEdits((at += 1), report, served, 0)
      if (round % 3 === 1) await fuzzEdits((at += 1), report, served, 2)
      if (round % 3 === 2) await fuzzStart((at += 1), report, kept, title)
      if (round % 12 === 2) await fuzzFullDisk((at += 1), report)
      if (!served.isAlive) {
        report.find({ part: 'server', seed: at, kind: 'crash', said: served.said })
        await served.begin()
      }
    }
    const took = await served.end('SIGTERM')
    if (took > 5_000) report.find({ part: 'server', seed, kind: 'hang', said: `stopping took ${Math.round(took)} ms` })
  } finally {
    await served.remove()
    await rm(kept, { recursive: true, force: true })
  }
  console.log(`\n${cpus().length} × ${cpus()[0]?.model ?? 'unknown'} · ${minutes} minutes · seed ${seed}`)
  for (const [part, count] of report.inputs) {
    const found = report.found.filter((one) => one.part === part)
    console.log(`${part.padEnd(18)} ${String(count).padStart(9)} inputs · ${found.length} found`)
  }
  return report.found.length
}

const flag = (name: string) => {
  const index = process.argv.indexOf(`--${name}`)
  return index === -1 ? undefined : process.argv[index + 1]
}
const minutes = Number(flag('minutes') ?? 5)
const seed = Number(flag('seed') ?? 1)
if (!(minutes > 0) || !Number.isSafeInteger(seed)) {
  console.error('npm run fuzz -- --minutes N --seed S [--log FILE]')
  process.exit(2)
}
process.exit((await fuzz(minutes, seed, flag('log'))) === 0 ? 0 : 1)
