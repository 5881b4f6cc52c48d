/** What in a beat can be come to for itself. */
export type PartKind =
  'beat' | 'redirect' | 'arrive' | 'line' | 'variant' | 'turns' | 'turn' | 'choice' | 'rule' | 'onward'
