import { ensurePackages } from './ensure.mjs'
import { ensureBuild } from './start.mjs'

/** Builds the application when its sources have changed since the last build. */

ensurePackages()
await ensureBuild()
