import type { TextArgument } from '../../story/text'
import type { EventLog } from '../interpreter/events'

/** What a line shows, by slot, and the values that they held together whenever it was said. */
export interface Heard {
  readonly shows: readonly TextArgument[]
  readonly slots: readonly number[]
  readonly rows: Map<string, readonly number[]>
}

/** By address. */
export type HeardLines = ReadonlyMap<string, Heard>

export function hearRow({ rows }: Heard, row: readonly number[]): void {
  const key = row.join(' ')
  if (!rows.has(key)) rows.set(key, row)
}

/** Hears what the slots of a line hold now. */
export function hearNow(line: Heard, values: Readonly<Int32Array>): void {
  hearRow(
    line,
    line.slots.map((slot) => values[slot]!),
  )
}

/** By the number of an event: the address of a line that is wanted; "" of anything else. */
export function addressesIn(events: EventLog, heard: HeardLines): (event: number) => string {
  const addresses = new Map<number, string>()
  return (event) => {
    let address = addresses.get(event)
    if (address === undefined) {
      const { kind, key } = events.at(event)
      address = kind === 'line' && heard.has(key[0]!) ? key[0]! : ''
      addresses.set(event, address)
    }
    return address
  }
}
