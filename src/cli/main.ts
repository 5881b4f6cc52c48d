import { Command } from 'commander'
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

/** By name; each is loaded only where it may be the one that was called. */
const COMMANDS = new Map<string | undefined, () => Promise<Command>>([
  ['survey', async () => (await import('./survey')).surveyCommand()],
  ['carry', async () => (await import('./carry')).carryCommand()],
  ['simulate', async () => (await import('./simulate')).simulateCommand()],
  ['bundle', async () => (await import('./build')).bundleCommand()],
  ['build', async () => (await import('./build')).buildCommand()],
  ['export', async () => (await import('./export')).exportCommand()],
  ['import', async () => (await import('./import')).importCommand()],
  ['backup', async () => (await import('./data')).backupCommand()],
  ['restore', async () => (await import('./data')).restoreCommand()],
  ['move', async () => (await import('./data')).moveCommand()],
])

const program = new Command('paper-compass')
  .description('Decides what every route through a story comes to.')
  .version(VERSION)
const called = COMMANDS.get(process.argv[2])
for (const make of called === undefined ? COMMANDS.values() : [called])
  program.addCommand((await make()).option('--debug', 'tell where a fault of the program comes from'))
// A call that can't be understood is like a file that can't be read: 2, not commander's 1.
for (const command of [program, ...program.commands]) {
  command.exitOverride((error) => process.exit(error.exitCode === 0 ? 0 : 2))
}
await program.parseAsync().catch(fault)
