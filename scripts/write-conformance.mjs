import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { bundle } from './bundle.mjs'
import { ensurePackages, root } from './ensure.mjs'

/** Writes the traces that every player of bundles is held against into conformance/play. */

ensurePackages()
const folder = join(root, 'dist', 'kit')
await bundle({ entryPoints: [join(root, 'test/kit/kit.ts')], outdir: folder })
const { kitFiles } = await import(pathToFileURL(join(folder, 'kit.mjs')).href)
const target = join(root, 'conformance', 'play')
mkdirSync(target, { recursive: true })
const old = new Set(readdirSync(target))
for (const [name, text] of kitFiles()) {
  writeFileSync(join(target, name), text)
  old.delete(name)
}
for (const name of old) rmSync(join(target, name))
