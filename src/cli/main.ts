import { Command } from 'commander'
import { buildCommand, bundleCommand } from './build'
import { backupCommand, moveCommand, restoreCommand } from './data'
import { carryCommand } from './carry'
import { exportCommand } from './export'
import { importCommand } from './import'
import { simulateCommand } from './simulate'
import { surveyCommand } from './survey'
import { VERSION } from './version'

/** A fault of the program, as sysexits.h has it: never taken for a verdict. */
const FAULT = 70

function fault(error: unknown): never {
  const message = error instanceof Error ? error.message : String(error)
  const more = process.argv.includes('--debug')
    ? `\n${error instanceof Error ? error.stack : ''}`
    : ' (--debug tells where)'
  process.stderr.write(`paper-compass: ${message.split('\n')[0]}${more}\n`)
  process.exit(FAULT)
}
process.on('uncaughtException', fault)
process.on('unhandledRejection', fault)

const program = new Command('paper-compass')
  .description('Decides what every route through a story comes to.')
  .version(VERSION)
for (const command of [
  surveyCommand(),
  carryCommand(),
  simulateCommand(),
  bundleCommand(),
  buildCommand(),
  exportCommand(),
  importCommand(),
  backupCommand(),
  restoreCommand(),
  moveCommand(),
])
  program.addCommand(command.option('--debug', 'tell where a fault of the program comes from'))
// A call that can't be understood is like a file that can't be read: 2, not commander's 1.
for (const command of [program, ...program.commands]) {
  command.exitOverride((error) => process.exit(error.exitCode === 0 ? 0 : 2))
}
await program.parseAsync().catch(fault)
