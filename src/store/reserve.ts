/** Less than this is left to write: nothing more is written, so that what is there can still be read, in bytes. */
export const RESERVE_BYTES = 64 * 1024 * 1024
