import { STORY_FILE_BYTES } from '../../core/base/limits'
import { numberSetting } from '../../core/base/number-setting'
import type { Result } from '../../core/base/result'

const MB = 1024 * 1024

/** The largest story file that is taken, in megabytes; or what is wrong with the setting. */
export function storyMegabytes(): Result<number> {
  return numberSetting(process.env, 'PAPER_COMPASS_STORY_MB', STORY_FILE_BYTES / MB)
}

export function storyBytes(): number {
  const set = storyMegabytes()
  return set.ok ? set.value * MB : STORY_FILE_BYTES
}
