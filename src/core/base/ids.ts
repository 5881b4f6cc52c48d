const ID_PATTERN = /^[a-z][a-z0-9_]{0,63}$/

/** Words that an expression gives a meaning of its own; an object may not be called so. */
export const RESERVED_IDS: ReadonlySet<string> = new Set(
  (
    'quest visits taken at ended atLeast before unstarted story ' +
    'true false null in as break const continue else for function if import let loop namespace package return var void while'
  ).split(' '),
)

/** How the names begin under which texts show quests and people. */
export const RESERVED_ID_PATTERN = /^(quest|person)_/

/** Says why `text` can't be the id of an object of a story, or undefined when it can. */
export function idTrouble(text: string): string | undefined {
  if (!ID_PATTERN.test(text)) {
    return 'an id starts with a small letter and has only small letters, digits and _ (64 at most)'
  }
  if (RESERVED_IDS.has(text) || RESERVED_ID_PATTERN.test(text)) {
    return `"${text}" is a reserved word of the expressions; choose another id`
  }
  return undefined
}

/** `wanted`, or `wanted_2`, `wanted_3` … : the first that `isTaken` does not know. */
export function freshId(wanted: string, isTaken: (id: string) => boolean): string {
  if (!isTaken(wanted)) return wanted
  for (let number = 2; ; number += 1) {
    const id = `${wanted}_${number}`
    if (!isTaken(id)) return id
  }
}

/** Whether a text is a UUID as this program writes them. */
export function isUuid(text: string): boolean {
  return /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(text)
}

declare const brand: unique symbol
/** `scene.beat`; the brand keeps it apart from other strings. */
export type BeatAddress = string & { readonly [brand]: 'beat' }
/** `scene.beat.choice` */
export type ChoiceAddress = string & { readonly [brand]: 'choice' }

export function beatAddress(scene: string, beat: string): BeatAddress {
  return `${scene}.${beat}` as BeatAddress
}

export function choiceAddress(scene: string, beat: string, choice: string): ChoiceAddress {
  return `${scene}.${beat}.${choice}` as ChoiceAddress
}

/** Where no beat is. */
export const NO_ADDRESS = '' as BeatAddress

/** An id as it is read: "toll_paid" is "toll paid". */
export function plainId(id: string): string {
  return id.replaceAll('_', ' ')
}
