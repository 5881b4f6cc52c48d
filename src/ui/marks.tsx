import { chakra } from '@chakra-ui/react'

/** What is known about something; each has a shape of its own as well as a tone. */
export type Verdict = 'reached' | 'unreached' | 'undecided' | 'waiting'

const LABEL: Readonly<Record<Verdict, string>> = {
  reached: 'reached',
  unreached: 'not reached',
  undecided: 'undecided',
  waiting: 'not surveyed yet',
}

/** A small drawn mark: a filled disc, an open crossed square, a half-filled lozenge, a dot. */
export function VerdictMark({ verdict, size = 10 }: { verdict: Verdict; size?: number }) {
  return (
    <chakra.svg
      viewBox="0 0 12 12"
      width={`${size}px`}
      height={`${size}px`}
      flexShrink={0}
      role="img"
      aria-label={LABEL[verdict]}
      color={
        verdict === 'reached'
          ? 'kept'
          : verdict === 'unreached'
            ? 'needle'
            : verdict === 'undecided'
              ? 'ochre'
              : 'faded'
      }
    >
      {verdict === 'reached' && <circle cx="6" cy="6" r="5" fill="currentColor" />}
      {verdict === 'unreached' && (
        <path d="M1.5 1.5h9v9h-9z M1.5 1.5l9 9 M10.5 1.5l-9 9" fill="none" stroke="currentColor" strokeWidth="1.6" />
      )}
      {verdict === 'undecided' && (
        <>
          <path d="M6 0.8 11.2 6 6 11.2 0.8 6z" fill="none" stroke="currentColor" strokeWidth="1.5" />
          <path d="M6 0.8V11.2L0.8 6z" fill="currentColor" />
        </>
      )}
      {verdict === 'waiting' && <circle cx="6" cy="6" r="2" fill="currentColor" />}
    </chakra.svg>
  )
}

export type Weight = 'error' | 'warning' | 'note'

/** The level of a finding: a filled triangle, an open triangle, a short rule. */
export function LevelMark({ level, size = 11 }: { level: Weight; size?: number }) {
  return (
    <chakra.svg
      viewBox="0 0 12 12"
      width={`${size}px`}
      height={`${size}px`}
      flexShrink={0}
      role="img"
      aria-label={level}
      color={level === 'error' ? 'needle' : level === 'warning' ? 'ochre' : 'faded'}
    >
      {level === 'error' && <path d="M6 1 11.5 11H0.5z" fill="currentColor" />}
      {level === 'warning' && <path d="M6 1.8 10.7 10.3H1.3z" fill="none" stroke="currentColor" strokeWidth="1.5" />}
      {level === 'note' && <path d="M2 6h8" stroke="currentColor" strokeWidth="2" />}
    </chakra.svg>
  )
}

/** The compass needle, the program's own sign. */
export function Needle({ angle = 24, size = 18 }: { angle?: number; size?: number }) {
  return (
    <chakra.svg viewBox="0 0 24 24" width={`${size}px`} height={`${size}px`} flexShrink={0} aria-hidden="true">
      <chakra.g transform={`rotate(${angle} 12 12)`} transition="transform 0.3s">
        <chakra.path d="M12 1.5 15 12H9z" fill="needle" />
        <chakra.path d="M12 22.5 9 12h6z" fill="none" stroke="faded" strokeWidth="1.2" />
      </chakra.g>
    </chakra.svg>
  )
}
