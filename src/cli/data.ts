import { Command } from 'commander'
import type { Done } from './data-work'

interface Flags {
  readonly data: string
}

export function backupCommand(): Command {
  return withData(
    new Command('backup')
      .description('write all stories with their history to one file, while no server runs on the folder')
      .argument('[file]', 'the file; without it one in the data folder, named by the time'),
  ).action(async (file: string | undefined, { data }: Flags) => say(await (await work()).backUp(data, file)))
}

export function restoreCommand(): Command {
  return withData(
    new Command('restore')
      .description('bring all stories back from a backup; what is in the folder is kept beside it')
      .argument('<file>', 'a backup'),
  ).action(async (file: string, { data }: Flags) => say(await (await work()).restore(data, file)))
}

function withData(command: Command): Command {
  return command
    .option('--data <folder>', 'the data folder', process.env.PAPER_COMPASS_DATA || 'data')
    .addHelpText('after', '\nExit codes: 0 done, 2 not done, and why, 70 a fault of the program.')
}

/** The database is loaded only by who needs it. */
function work() {
  return import('./data-work')
}

function say({ isDone, message }: Done): void {
  ;(isDone ? process.stdout : process.stderr).write(`${message}\n`)
  if (!isDone) process.exitCode = 2
}
