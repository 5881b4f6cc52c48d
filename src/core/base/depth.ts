/** Whether values stand in values more than so many times; without going as deep itself. */
export function isDeeperThan(json: unknown, most: number): boolean {
  let level = [json]
  for (let depth = 0; level.length > 0; depth += 1) {
    if (depth > most) return true
    const next: unknown[] = []
    for (const value of level)
      if (typeof value === 'object' && value !== null)
        for (const inner of Object.values(value)) if (typeof inner === 'object' && inner !== null) next.push(inner)
    level = next
  }
  return false
}
