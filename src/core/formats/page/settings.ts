/** What an author chooses for the page that plays a story; as it stands in the story under "page". */
export interface PageSettings {
  readonly author?: string
  /** On the title page, beneath the title. */
  readonly blurb?: string
  readonly credits?: string
  /** `#rrggbb`, for rules and marks. */
  readonly accent?: string
  readonly ground?: PageGround
  /** What is not shown, of `PAGE_PARTS`, with blanks between. */
  readonly hides?: string
  /** "ask": readers are asked whether they want to keep a record of how they play. */
  readonly playtests?: string
}

export const PAGE_GROUNDS = ['paper', 'white', 'sea', 'night'] as const
export type PageGround = (typeof PAGE_GROUNDS)[number]

/** What a page can show beside the text. */
export const PAGE_PARTS = ['title', 'journal', 'bag', 'earlier'] as const
export type PagePart = (typeof PAGE_PARTS)[number]

export function hides(settings: PageSettings, part: PagePart): boolean {
  return (settings.hides ?? '').split(' ').includes(part)
}
