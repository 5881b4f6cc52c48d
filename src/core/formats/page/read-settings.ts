import type { Story } from '../../story/types'
import { PAGE_GROUNDS, type PageSettings } from './settings'

/** What a story says of its page; whatever is not as it should be is left out. */
export function readPageSettings({ page }: Story): PageSettings {
  const { author, blurb, credits, accent, ground, hides, playtests } = page ?? {}
  const isGround = PAGE_GROUNDS.find((known) => known === ground)
  return {
    ...(author ? { author } : {}),
    ...(blurb ? { blurb } : {}),
    ...(credits ? { credits } : {}),
    ...(accent !== undefined && /^#[0-9a-f]{6}$/i.test(accent) ? { accent } : {}),
    ...(isGround === undefined ? {} : { ground: isGround }),
    ...(hides ? { hides } : {}),
    ...(playtests === 'ask' ? { playtests } : {}),
  }
}
