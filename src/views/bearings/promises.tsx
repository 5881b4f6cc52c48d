'use client'

import { plainId } from '../../core/base/ids'
import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import type { SurveyReport } from '../../session/survey-report'
import type { StoryPromise } from '../../core/story/types'
import { Quiet } from '../../ui/buttons'
import { VerdictMark } from '../../ui/marks'
import { MarginNote } from '../expression/margin-note'
import { DraftText } from '../shared/fields/draft-text'
import { useMayWrite, useSession, useSessionState } from '../shared/session/use-session'
import { useWalk } from '../shared/session/use-walk'
import { PromiseForm } from './promise-form'
import { PROMISE_KINDS } from './promise-kinds'
import { EditQuiet } from '../shared/fields/edits'

/** What the designer swears about the story, in sentences, each kept or broken. */
export function Promises({ result }: { result: SurveyReport }) {
  const promises = useSessionState((state) => state.story.promises) ?? []
  const mayWrite = useMayWrite()
  return (
    <Box as="section" mt="8" aria-label="Promises">
      <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500} mb="2">
        Promises
      </Heading>
      {promises.length === 0 && (
        <Text color="faded">
          What must always hold, whatever the player does: it is checked after every edit, and a broken promise shows
          the route that breaks it.
        </Text>
      )}
      {promises.map((promise, at) => (
        <PromiseRow key={promise.id} promise={promise} at={at} result={result} />
      ))}
      {mayWrite && <PromiseForm />}
    </Box>
  )
}

function PromiseRow({ promise, at, result }: { promise: StoryPromise; at: number; result: SurveyReport }) {
  const session = useSession()
  const walk = useWalk()
  const verdict = result.promises[promise.id]
  const broken = result.findings.find(({ kind, key }) => kind === 'problem' && key[0] === promise.id)
  const texts = promise as unknown as Readonly<Record<string, string | undefined>>
  const set = (key: string, source: string | undefined) => {
    const next: Record<string, unknown> = { ...promise, [key]: source ?? '' }
    if (key === 'while' && source === undefined) delete next.while
    session.edit({ op: 'replace', in: { list: 'promises' }, id: promise.id, at, item: next as unknown as StoryPromise })
  }
  const note = (notes: string) => {
    const next = { ...promise, notes }
    if (notes === '') delete (next as StoryPromise).notes
    session.edit({ op: 'replace', in: { list: 'promises' }, id: promise.id, at, item: next })
  }
  return (
    <Flex align="baseline" gap="2.5" py="1" borderBottom="1px solid" borderColor="hairline" data-promise={promise.id}>
      <VerdictMark
        verdict={
          verdict === undefined || verdict.verdict === 'undecided'
            ? 'undecided'
            : verdict.verdict === 'kept'
              ? 'reached'
              : 'unreached'
        }
      />
      <Box flex="1" minW="0">
        <Flex
          fontFamily="story"
          gap="1.5"
          wrap="wrap"
          align="baseline"
          css={{ '& .gate': { color: 'ink' }, '& .broken': { color: 'needle' } }}
        >
          {PROMISE_KINDS.find(({ kind }) => kind === promise.kind)!.parts.map(([key, lead]) => (
            <Flex key={key} as="span" gap="1.5" align="baseline">
              <span>{key === 'while' && texts.while === undefined ? 'From everywhere' : lead}</span>
              {key === 'while' && texts.while === undefined ? (
                <EditQuiet onClick={() => set('while', 'true')}>(while …)</EditQuiet>
              ) : (
                <MarginNote
                  key={texts[key]}
                  form="gate"
                  promise
                  scene=""
                  source={texts[key] ?? ''}
                  onChange={(source) => set(key, source)}
                  field={`${promise.id}:${key}`}
                />
              )}
            </Flex>
          ))}
        </Flex>
        <Box color="faded" fontSize="sm">
          <DraftText
            label={`Note on the promise ${promise.id}`}
            placeholder="note"
            value={promise.notes ?? ''}
            onCommit={(notes) => note(notes)}
          />
        </Box>
        <Text color={broken === undefined ? 'faded' : 'needle'} fontSize="sm">
          {plainId(promise.id)}
          {broken !== undefined && `: ${broken.message}`}
        </Text>
      </Box>
      <Text
        data-promise-verdict=""
        color={verdict?.verdict === 'kept' ? 'kept' : verdict?.verdict === 'broken' ? 'needle' : 'ochre'}
      >
        {verdict?.verdict ?? 'not understood'}
      </Text>
      {verdict?.route !== undefined && verdict.route.length > 0 && (
        <Quiet color="needle" aria-label={`Walk it: ${promise.id}`} onClick={() => walk(verdict.route!)}>
          walk it
        </Quiet>
      )}
      <EditQuiet
        aria-label={`Delete the promise ${promise.id}`}
        onClick={() => session.edit({ op: 'remove', in: { list: 'promises' }, id: promise.id, at })}
      >
        Delete
      </EditQuiet>
    </Flex>
  )
}
