import type * as z from 'zod'

/** What is asked and answered at one path by one method. */
export interface Operation {
  readonly method: 'get' | 'post' | 'delete'
  readonly path: string
  readonly id: string
  readonly says: string
  readonly query?: Readonly<
    Record<string, { readonly says: string; readonly schema: z.ZodType; readonly required?: true }>
  >
  readonly body?: z.ZodType
  /** A schema of JSON, or the media type of something else, and the file that describes it. */
  readonly answer: z.ZodType | { readonly type: string; readonly ref?: string }
  /** Media types of files that are answered instead, on asking. */
  readonly files?: readonly string[]
  /** Why it can be refused, beside what is refused everywhere. */
  readonly refusals?: readonly (400 | 404 | 409 | 413 | 422 | 429)[]
}
