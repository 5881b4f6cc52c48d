import type { Deed } from '../core/contract/access'
import type { Sql } from './database'
import { keepable } from './journal'
import { iso } from './moment'

/** Entries that are given at once. */
const DEEDS = 100

/** Who does something, for what is entered of it. */
export interface Doer {
  /** Undefined where it is nobody with an account, such as somebody who may not come in. */
  readonly id?: string | undefined
  readonly name: string
  /** From where, as the network has it. */
  readonly address?: string | undefined
}

/** Enters what was done to an account, a role or a story; what it is about by its name. */
export async function enter(sql: Sql, doer: Doer, deed: string, about = '', story?: string): Promise<void> {
  await sql.query(
    'insert into audit (member_id, who, deed, about, story_id, address) values ($1, $2, $3, $4, $5, $6)',
    [doer.id ?? null, keepable(doer.name), deed, keepable(about), story ?? null, doer.address ?? null],
  )
}

/** What was done, the latest first, before an entry; of all, or of one story. */
export async function readDeeds(sql: Sql, before?: string, story?: string): Promise<Deed[]> {
  return sql.query<Deed & Record<string, unknown>>(
    `select id, ${iso('at')} as at, who, deed, about, address from audit
     where ($1::uuid is null or (audit.at, audit.id) < (select b.at, b.id from audit b where b.id = $1::uuid))
       and ($2::uuid is null or story_id = $2::uuid)
     order by audit.at desc, audit.id desc limit ${DEEDS}`,
    [before ?? null, story ?? null],
  )
}
