/** What people say to each other about something in a story (`topic.ts`); with what they talked of, as it read. */
export interface Talk {
  readonly topic: string
  readonly quote: string
  /** None while it is open. */
  readonly done: object | null
  readonly comments: readonly { readonly by: { readonly name: string }; readonly text: string }[]
}

/** Who said what of a talk, and about which words: its beginning, then the answers. */
export function remarksOf({ quote, comments }: Talk): string[] {
  const about = quote === '' ? '' : ` on “${quote}”`
  return comments.map(
    ({ by, text }, at) => `${at === 0 ? 'Comment' : 'Answer'} by ${by.name}${at === 0 ? about : ''}: ${text}`,
  )
}
