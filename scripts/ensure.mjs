import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { basename, dirname, join, relative } from 'node:path'
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
  return hashed(paths, (hash, path) => hash.update(readFileSync(path)))
}

function hashed(paths, add) {
  const hash = createHash('sha256')
  const visit = (path) => {
    const stat = statSync(path, { throwIfNoEntry: false })
    if (stat === undefined) return
    if (stat.isDirectory()) {
      for (const name of readdirSync(path).sort()) visit(join(path, name))
      return
    }
    add(hash.update(relative(root, path)), path, stat)
  }
  for (const path of paths) visit(join(root, path))
  return hash.digest('hex')
}

/** What is kept beside what was made of files and folders: their fingerprint, and when each was touched last. */
export function stampOf(paths) {
  return `${fingerprint(paths)}\n${touched(paths)}`
}

/** Makes something of files and folders, and keeps their stamp, unless the one that is kept is of them as they are now. */
export async function unlessStamped(file, paths, make) {
  if (isStampOf(file, paths)) return
  // before: what is written meanwhile is not in it
  const now = stampOf(paths)
  await make()
  writeFileSync(file, now)
}

/** Whether a stamp that was kept is of files and folders as they are now. Where none was touched since, none is read. */
export function isStampOf(file, paths) {
  if (!existsSync(file)) return false
  const [contents, then] = readFileSync(file, 'utf8').split('\n')
  return then === touched(paths) || contents === fingerprint(paths)
}

/** When a file was written or put in its place can't be set by hand, as can when it was changed. */
function touched(paths) {
  return hashed(paths, (hash, _, { size, ctimeMs }) => hash.update(` ${size} ${ctimeMs}\n`))
}

/** Which state of the program surveys: what it said of a story holds as long as this is the same. */
export function surveyor() {
  return fingerprint(['src/core', 'src/workers', 'package-lock.json']).slice(0, 16)
}

/**
 * Makes a folder of built files when its sources have changed since it was made last, and gives it. What makes it starts
 * from an empty folder of this process, which takes the other's place when it is whole: several may find it out of date.
 */
export async function builtFrom(sources, folder, make) {
  if (isStampOf(join(folder, 'stamp'), sources)) return folder
  ensurePackages({ quiet: true })
  removeLeft(folder)
  const made = `${folder}.new-${process.pid}`
  rmSync(made, { recursive: true, force: true })
  mkdirSync(made, { recursive: true })
  await unlessStamped(join(made, 'stamp'), sources, () => make(made))
  putInPlace(made, folder)
  return folder
}

/** Takes away what processes left that were ended while they made a folder. */
function removeLeft(folder) {
  if (!existsSync(dirname(folder))) return
  for (const name of readdirSync(dirname(folder))) {
    const pid = /\.(?:new|old)-(\d+)$/.exec(name)?.[1]
    if (pid === undefined || !name.startsWith(`${basename(folder)}.`) || isAlive(Number(pid))) continue
    rmSync(join(dirname(folder), name), { recursive: true, force: true })
  }
}

function isAlive(pid) {
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    return error.code === 'EPERM'
  }
}

function putInPlace(made, folder) {
  const old = `${folder}.old-${process.pid}`
  for (;;) {
    // gone already where another process is just putting its own there
    ignoring(['ENOENT'], () => renameSync(folder, old))
    rmSync(old, { recursive: true, force: true })
    if (ignoring(['ENOTEMPTY', 'EEXIST'], () => renameSync(made, folder))) return
  }
}

/** Does something; false where it failed for one of some reasons. */
function ignoring(codes, work) {
  try {
    work()
    return true
  } catch (error) {
    if (!codes.includes(error.code)) throw error
    return false
  }
}
