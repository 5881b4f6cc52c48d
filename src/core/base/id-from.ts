import { transliterate } from 'transliteration'
import { idTrouble } from './ids'

/** More of a name than this is in no id. */
const NAME_MAX = 200

/** An id made from what a person typed, in any script: "Talk to Odile!" becomes "talk_to_odile". Never reserved. */
export function idFrom(text: string, fallback: string): string {
  const plain = transliterate(text.slice(0, NAME_MAX).normalize('NFC'))
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^[^a-z]+/, '')
    .replace(/_+$/, '')
    .slice(0, 40)
    .replace(/_+$/, '')
  const id = plain === '' ? fallback : plain
  return idTrouble(id) === undefined ? id : `${fallback}_${id}`.slice(0, 60)
}
