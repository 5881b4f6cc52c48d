import { spawnSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { extname, join } from 'node:path'
import { ensureRuntime } from './build-runtime.mjs'
import { ensurePackages, root } from './ensure.mjs'

/** Serves the stand-in game of samples/quay-walk, as a game would be: its own files, the published runtime, a bundle. */

const TYPES = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.json': 'application/json; charset=utf-8',
}

ensurePackages()
const runtime = await ensureRuntime()
const story = process.argv[2] ?? join(root, 'samples', 'causeway.story.json')
const made = spawnSync(process.execPath, [join(root, 'bin', 'paper-compass'), 'bundle', story], {
  encoding: 'utf8',
  maxBuffer: 1 << 28,
})
if (made.status !== 0) {
  console.error(made.stderr)
  process.exit(1)
}
const files = {
  '/': join(root, 'samples', 'quay-walk', 'index.html'),
  '/game.js': join(root, 'samples', 'quay-walk', 'game.js'),
  '/quay.css': join(root, 'samples', 'quay-walk', 'quay.css'),
  '/runtime/index.js': join(runtime, 'index.js'),
  '/runtime/live.js': join(runtime, 'live.js'),
}
const port = Number(process.env.PORT || 4000)
createServer((request, response) => {
  const path = (request.url ?? '/').split('?')[0]
  const file = files[path]
  const body = path === '/story.bundle.json' ? made.stdout : file && readFileSync(file)
  if (body === undefined) {
    response.writeHead(404).end()
    return
  }
  response.writeHead(200, { 'Content-Type': TYPES[extname(path === '/' ? '.html' : path)] ?? TYPES['.html'] }).end(body)
})
  .on('error', (error) => {
    console.error(`The game can not be served: ${error.message}`)
    process.exit(1)
  })
  .listen(port, '127.0.0.1', () => console.log(`Quay walk is ready: http://127.0.0.1:${port}`))
