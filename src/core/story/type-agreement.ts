/**
 * The keys that a type names, at every depth: without those that a loose object may have besides, and without those
 * that are only there to be refused.
 */
type Named<T> = T extends readonly unknown[]
  ? { [At in keyof T]: Named<T[At]> }
  : T extends object
    ? { [Key in keyof T as Kept<T, Key>]: Named<T[Key]> }
    : T
type Kept<T, Key extends keyof T> = string extends Key
  ? unknown extends T[Key]
    ? never
    : Key
  : [Exclude<T[Key], undefined>] extends [never]
    ? never
    : Key

/** The keys of `A` that `B` lacks, or of which it says something else: optional or not, and which values. */
type Apart<A, B> = {
  [Key in keyof A]-?: Key extends keyof B ? (Same<Pick<A, Key>, Pick<B, Key>> extends true ? never : Key) : Key
}[keyof A]
type Same<A, B> = (<T>() => T extends A ? 1 : 2) extends <T>() => T extends B ? 1 : 2 ? true : false
/** The keys at which two types say something else; never where they agree. */
export type Differs<A, B> = Apart<Named<A>, Named<B>> | Apart<Named<B>, Named<A>>
