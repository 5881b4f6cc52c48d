import { Command } from 'commander'
import type { Done } from './data-work'

interface Flags {
  readonly data: string
  readonly server?: string
}

const SERVER_URL = process.env.PAPER_COMPASS_DATABASE_URL?.trim() || undefined
/** What stands for the database in PAPER_COMPASS_DATABASE_URL, so that its password is in no list of processes. */
const SERVER = 'server'

export function backupCommand(): Command {
  return withData(
    new Command('backup')
      .description('write all stories with their history to one file; a data folder while no server runs on it')
      .argument('[file]', 'the file; without it one in the data folder, named by the time'),
  ).action(async (file: string | undefined, { data, server }: Flags, command: Command) => {
    const { backUp, backUpServer } = await work()
    say(isFolder(server, command) ? await backUp(data, file) : await backUpServer(server, data, file))
  })
}

export function restoreCommand(): Command {
  return withData(
    new Command('restore')
      .description(
        'bring all stories back from a backup; what is in a folder is kept beside it, the database of a server has to be empty',
      )
      .argument('<file>', 'a backup'),
  ).action(async (file: string, { data, server }: Flags, command: Command) => {
    const { restore, restoreServer } = await work()
    say(isFolder(server, command) ? await restore(data, file) : await restoreServer(server, file))
  })
}

export function moveCommand(): Command {
  return withCodes(
    new Command('move')
      .description(
        'copy all stories with their history from a data folder to a database of a PostgreSQL server, or back',
      )
      .argument('<from>', `a data folder, postgres://…, or "${SERVER}" for the database in PAPER_COMPASS_DATABASE_URL`)
      .argument('<to>', 'the same'),
  ).action(async (from: string, to: string) => {
    const places = [from, to].map((place) => (place === SERVER ? SERVER_URL : place))
    if (places.includes(undefined)) return say({ isDone: false, message: 'PAPER_COMPASS_DATABASE_URL is not set' })
    say(await (await work()).move(places[0]!, places[1]!))
  })
}

function withData(command: Command): Command {
  return withCodes(
    command
      .option('--data <folder>', 'the data folder', process.env.PAPER_COMPASS_DATA || 'data')
      .option('--server <url>', "a PostgreSQL server's database in its place", SERVER_URL),
  )
}

/** A folder that is named counts for more than a server that is set for all. */
function isFolder(server: string | undefined, command: Command): server is undefined {
  return (
    server === undefined ||
    (command.getOptionValueSource('data') === 'cli' && command.getOptionValueSource('server') !== 'cli')
  )
}

function withCodes(command: Command): Command {
  return command.addHelpText('after', '\nExit codes: 0 done, 2 not done, and why, 70 a fault of the program.')
}

/** The database is loaded only by who needs it. */
function work() {
  return import('./data-work')
}

function say({ isDone, message }: Done): void {
  ;(isDone ? process.stdout : process.stderr).write(`${message}\n`)
  if (!isDone) process.exitCode = 2
}
