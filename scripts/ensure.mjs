import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { dirname, join, relative } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = dirname(dirname(fileURLToPath(import.meta.url)))

/** Runs a program to its end; its output goes to ours (standard error when `quiet`). */
export function run(command, args, { quiet = false, env = process.env } = {}) {
  const done = spawnSync(command, args, { cwd: root, env, stdio: quiet ? ['ignore', 2, 2] : 'inherit' })
  if (done.error) throw done.error
  return done.status ?? 1
}

/** Installs the packages when they are missing or not the locked ones. */
export function ensurePackages({ quiet = false } = {}) {
  const installed = join(root, 'node_modules', '.package-lock.json')
  const lock = join(root, 'package-lock.json')
  if (existsSync(installed) && statSync(installed).mtimeMs >= statSync(lock).mtimeMs) return
  if (existsSync(installed) && sameVersions(lock, installed)) return
  console.error('Installing packages …')
  const status = run('npm', ['ci', '--no-audit', '--no-fund'], {
    quiet,
    env: { ...process.env, NODE_ENV: 'development' },
  })
  if (status !== 0) throw new Error('npm ci failed; see above')
}

function sameVersions(lock, installed) {
  const wanted = JSON.parse(readFileSync(lock, 'utf8')).packages
  const found = JSON.parse(readFileSync(installed, 'utf8')).packages
  return Object.entries(wanted).every(
    ([name, { version, optional }]) => name === '' || optional || found[name]?.version === version,
  )
}

/** A fingerprint of files and folders: it changes when any of their contents does, and is the same wherever the program lies. */
export function fingerprint(paths) {
  const hash = createHash('sha256')
  const visit = (path) => {
    if (!existsSync(path)) return
    if (statSync(path).isDirectory()) {
      for (const name of readdirSync(path).sort()) visit(join(path, name))
      return
    }
    hash.update(relative(root, path)).update(readFileSync(path))
  }
  for (const path of paths) visit(join(root, path))
  return hash.digest('hex')
}

/** Which state of the program surveys: what it said of a story holds as long as this is the same. */
export function surveyor() {
  return fingerprint(['src/core', 'src/workers', 'package-lock.json']).slice(0, 16)
}

/**
 * Makes a folder of built files when its sources have changed since it was made last, and gives it. What makes it starts
 * from an empty folder.
 */
export async function builtFrom(sources, folder, make) {
  const stamp = join(folder, 'stamp')
  const now = fingerprint(sources)
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return folder
  ensurePackages({ quiet: true })
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  await make(folder)
  writeFileSync(stamp, now)
  return folder
}
