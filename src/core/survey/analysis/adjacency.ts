/** Targets by beat: those of beat b from `first[b]` to `first[b + 1]`. */
export interface Adjacency {
  readonly first: Int32Array
  readonly beats: Int32Array
}
