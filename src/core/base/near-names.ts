/**
 * How many letters have to be put in, taken out, changed or swapped with their neighbour to make
 * one name of another (optimal string alignment; Damerau, CACM 1964).
 */
export function nameDistance(a: string, b: string): number {
  const rows: number[][] = [Array.from({ length: b.length + 1 }, (_, at) => at)]
  for (let i = 1; i <= a.length; i += 1) {
    const row = [i]
    for (let j = 1; j <= b.length; j += 1) {
      const same = a[i - 1] === b[j - 1]
      let best = Math.min(rows[i - 1]![j]! + 1, row[j - 1]! + 1, rows[i - 1]![j - 1]! + (same ? 0 : 1))
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        best = Math.min(best, rows[i - 2]![j - 2]! + 1)
      row.push(best)
    }
    rows.push(row)
  }
  return rows[a.length]![b.length]!
}

/** Whether two names are so alike that one may be a slip for the other: one letter in four at most. */
export function nearlySame(a: string, b: string): boolean {
  const most = Math.floor(Math.max(a.length, b.length) / 4)
  return a !== b && most > 0 && Math.abs(a.length - b.length) <= most && nameDistance(a, b) <= most
}
