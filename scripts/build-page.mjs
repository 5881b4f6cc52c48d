import { createHash } from 'node:crypto'
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { builtFrom, root } from './ensure.mjs'

/** Builds what the playing page is made of into dist/page when its sources have changed; gives the file. */
export async function ensurePage() {
  const sources = ['src/core', 'packages/runtime/src', 'packages/page/src', 'package-lock.json']
  const folder = await builtFrom(sources, join(root, 'dist', 'page'), async (made) => {
    const script = await built('main.ts')
    const style = await built('page.css')
    const parts = { script, style, scriptDigest: digest(script), styleDigest: digest(style) }
    writeFileSync(join(made, 'parts.json'), JSON.stringify(parts))
  })
  return join(folder, 'parts.json')
}

async function built(entry) {
  const { build } = await import('esbuild')
  const { outputFiles } = await build({
    entryPoints: [join(root, 'packages', 'page', 'src', entry)],
    bundle: true,
    minify: true,
    write: false,
    format: 'iife',
    target: ['es2022', 'chrome111', 'firefox113', 'safari16.4'],
    legalComments: 'none',
    logLevel: 'warning',
  })
  // in a page a script ends with this, wherever it stands
  return outputFiles[0].text.trim().replaceAll('</script', '<\\/script')
}

function digest(text) {
  return `sha256-${createHash('sha256').update(text).digest('base64')}`
}
