import * as z from 'zod'
import type { RouteItem } from './types'

const value = z.union([z.boolean(), z.int(), z.string().max(10_000)])

/** One step of a route that comes from elsewhere. */
export const routeItemSchema = z.union([
  z.strictObject({ choice: z.string() }),
  z.strictObject({ at: z.string(), word: z.string().max(10_000) }),
  z.strictObject({ given: z.record(z.string(), value) }),
]) satisfies z.ZodType<RouteItem>
