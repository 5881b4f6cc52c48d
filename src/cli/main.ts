import { Command } from 'commander'
import { simulateCommand } from './simulate'
import { surveyCommand } from './survey'
import { VERSION } from './version'

// Whoever reads the output may have read enough, as `head` does: that is no fault, and the verdict stays.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error
})

const program = new Command('paper-compass')
  .description('Decides what every route through a story comes to.')
  .version(VERSION)
program.addCommand(surveyCommand())
program.addCommand(simulateCommand())
// A call that can't be understood is like a file that can't be read: 2, not commander's 1.
for (const command of [program, ...program.commands]) {
  command.exitOverride((error) => process.exit(error.exitCode === 0 ? 0 : 2))
}
await program.parseAsync()
