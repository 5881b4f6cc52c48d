import type { Result } from '../../../core/base/result'
import type { StorySession } from '../../../session/story-session'
import type { Answer, Ask, QuestionName } from '../../../session/survey-handle'

/** Asks the survey's worker, and hears the answer unless what asks is left before; gives what is done as it is left, which ends the work. */
export function askUntilLeft<N extends QuestionName>(
  session: StorySession,
  name: N,
  ask: Ask<N>,
  hear: (answer: Result<Answer<N>>) => void,
): () => void {
  const leaving = new AbortController()
  const { signal } = leaving
  void session.survey.ask(name, ask, signal).then((answer) => {
    if (!signal.aborted) hear(answer)
  })
  return () => leaving.abort()
}
