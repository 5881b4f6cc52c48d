import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ensurePackages, fingerprint, root } from './ensure.mjs'

/** Builds what the playing page is made of into dist/page when its sources have changed; gives the file. */
export async function ensurePage() {
  const folder = join(root, 'dist', 'page')
  const file = join(folder, 'parts.json')
  const stamp = join(folder, 'stamp')
  const now = fingerprint(['src/core', 'packages/runtime/src', 'packages/page/src', 'package-lock.json'])
  if (existsSync(file) && existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return file
  ensurePackages({ quiet: true })
  const { build } = await import('esbuild')
  const made = async (entry, loader) => {
    const { outputFiles } = await build({
      entryPoints: [join(root, 'packages', 'page', 'src', entry)],
      bundle: true,
      minify: true,
      write: false,
      format: 'iife',
      target: ['es2022', 'chrome111', 'firefox113', 'safari16.4'],
      legalComments: 'none',
      logLevel: 'warning',
      ...loader,
    })
    // in a page a script ends with this, wherever it stands
    return outputFiles[0].text.trim().replaceAll('</script', '<\\/script')
  }
  const digest = (text) => `sha256-${createHash('sha256').update(text).digest('base64')}`
  const script = await made('main.ts')
  const style = await made('page.css')
  mkdirSync(folder, { recursive: true })
  writeFileSync(file, JSON.stringify({ script, style, scriptDigest: digest(script), styleDigest: digest(style) }))
  writeFileSync(stamp, now)
  return file
}
