/** For a process that lives for seconds: its database is not made fast for those who stay, which takes more of the processors than it gives back. */
export const SHORT_LIVED = '--liftoff-only'
