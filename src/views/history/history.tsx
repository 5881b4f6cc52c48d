'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useSearchParams } from 'next/navigation'
import { useCallback, useEffect, useState } from 'react'
import { api } from '../../session/api'
import type { History, HistoryStep } from '../../core/contract/answers'
import { Plain, Quiet } from '../../ui/buttons'
import { AddForm } from '../shared/fields/add-form'
import { sayMoment } from '../shared/when'
import { useSession, useSessionState } from '../shared/session/use-session'
import { AllReleased } from './all-released'
import { Comparison } from './comparison'

/** Everything that was done to the story, the versions that got a name, and what is different between two points. */
export function HistoryView() {
  const session = useSession()
  const [history, setHistory] = useState<History>()
  const [failure, setFailure] = useState<string>()
  // what changed since a revision can be asked for by the address
  const asked = Number(useSearchParams().get('from') ?? NaN)
  const [from, setFrom] = useState<number | undefined>(Number.isInteger(asked) && asked >= 0 ? asked : undefined)
  const [to, setTo] = useState<number>()
  // read again when something was saved
  const saved = useSessionState((state) => (state.saving.kind === 'saved' ? state.story : undefined))
  const read = useCallback(async () => {
    const answer = await api.history(session.id)
    if (answer.ok) {
      setFailure(undefined)
      setTo((known) => known ?? answer.value.revision)
      setHistory((before) =>
        before === undefined ? answer.value : { ...answer.value, steps: joined(answer.value.steps, before.steps) },
      )
    } else setFailure(answer.error.message)
  }, [session])
  useEffect(() => {
    if (saved !== undefined) void Promise.resolve().then(read)
  }, [saved, read])

  const more = async () => {
    const answer = await api.history(session.id, history?.steps.at(-1)?.revision)
    if (answer.ok) setHistory((before) => before && { ...before, steps: joined(before.steps, answer.value.steps) })
    else session.tell(`Earlier steps could not be read: ${answer.error.message}`)
  }
  const name = async (text: string) => {
    const answer = await api.nameVersion(session.id, text)
    if (!answer.ok) return session.tell(`The version could not be named: ${answer.error.message}`)
    await read()
  }
  const release = async (version: string, isReleased: boolean) => {
    const answer = await api.releaseVersion(session.id, version, isReleased)
    if (!answer.ok) return session.tell(`The version could not be marked: ${answer.error.message}`)
    await Promise.all([read(), session.released?.read()])
  }
  const forget = async (version: string) => {
    const answer = await api.forgetVersion(session.id, version)
    if (!answer.ok) return session.tell(`The name could not be forgotten: ${answer.error.message}`)
    await Promise.all([read(), session.released?.read()])
  }
  if (history === undefined) {
    return (
      <Box p="8" role={failure === undefined ? 'status' : 'alert'}>
        <Text color="faded">
          {failure === undefined ? 'Reading the history …' : `The history could not be read. ${failure}`}
        </Text>
        {failure !== undefined && (
          <Plain mt="3" onClick={() => void read()}>
            Try again
          </Plain>
        )}
      </Box>
    )
  }
  const { steps, versions, revision } = history
  const compare = (point: number) => {
    setFrom(point)
    setTo(revision)
  }
  const nameOf = (point: number) =>
    versions.find((version) => version.revision === point)?.name ??
    (point === 0 ? 'the beginning' : point === revision ? 'now' : `step ${point}`)
  return (
    <Box
      as="main"
      display="grid"
      gridTemplateColumns={{ base: 'minmax(0, 1fr)', lg: 'minmax(26rem, 34rem) minmax(0, 1fr)' }}
      overflowY={{ base: 'auto', lg: 'hidden' }}
      h="100%"
    >
      <Box overflowY="auto" px="5" py="4" borderRight="1px solid" borderColor="hairline" tabIndex={-1}>
        {failure !== undefined && (
          <Text role="alert" color="needle" mb="2">
            What stands here may be old: the history could not be read again. {failure}
          </Text>
        )}
        <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
          Versions
        </Heading>
        <Text color="faded">A name for the story as it is now, to come back to or to compare with.</Text>
        {versions.map((version) => (
          <Flex
            key={version.id}
            gap="2"
            py="1"
            align="baseline"
            borderBottom="1px solid"
            borderColor="hairline"
            data-version={version.name}
          >
            <Text flex="1" fontWeight={600} truncate>
              {version.name}
            </Text>
            <Text color="faded" fontSize="sm">
              {sayMoment(version.madeAt)}
            </Text>
            <Quiet
              aria-pressed={version.releasedAt !== null}
              color={version.releasedAt === null ? undefined : 'kept'}
              aria-label={`Players have ${version.name}`}
              title={
                version.releasedAt === null
                  ? 'Players have this version: from now on the needle says what edits do to their saves'
                  : `Players have it since ${sayMoment(version.releasedAt)}; press if they no longer do`
              }
              onClick={() => void release(version.id, version.releasedAt === null)}
            >
              {version.releasedAt === null ? 'Released?' : 'Released'}
            </Quiet>
            <Quiet onClick={() => compare(version.revision)} aria-label={`Compare ${version.name} with now`}>
              Compare
            </Quiet>
            <Quiet
              disabled={version.revision >= revision}
              onClick={() => void session.returnTo(version.revision)}
              aria-label={`Return to ${version.name}`}
            >
              Return
            </Quiet>
            <Quiet
              onClick={() => void forget(version.id)}
              aria-label={`Forget the name ${version.name}`}
              title="The steps stay; only the name goes"
            >
              Forget
            </Quiet>
          </Flex>
        ))}
        <AddForm
          label="Name of the version"
          placeholder="Before the festival"
          action="Name this version"
          onAdd={(text) => void name(text)}
        />
        {versions.some(({ releasedAt }) => releasedAt !== null) && <AllReleased />}
        <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500} mt="6">
          Every step
        </Heading>
        {steps.length === 0 && (
          <Text color="faded">
            Nothing has been changed yet. Each edit will stand here with its time, and can be returned to.
          </Text>
        )}
        {steps.map((step) => (
          <StepRow
            key={step.revision}
            step={step}
            last={step.revision === revision}
            onCompare={() => compare(step.revision - 1)}
            onReturn={() => void session.returnTo(step.revision)}
          />
        ))}
        {(steps.at(-1)?.revision ?? 1) > 1 && (
          <Plain mt="3" onClick={() => void more()}>
            Earlier steps
          </Plain>
        )}
      </Box>
      <Box overflowY="auto" px="6" py="4" tabIndex={-1}>
        {from === undefined || to === undefined ? (
          <Text color="faded">
            Choose “Compare” beside a version or a step: what changed since then, in texts, choices and gates, and what
            that did to the verdicts.
          </Text>
        ) : (
          <>
            <Flex gap="2" align="baseline" mb="3" wrap="wrap">
              <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
                From {nameOf(from)} to {nameOf(to)}
              </Heading>
              <PointField label="from" value={from} history={history} onChange={setFrom} />
              <PointField label="to" value={to} history={history} onChange={setTo} />
            </Flex>
            <Comparison key={`${from} ${to}`} from={from} to={to} />
          </>
        )}
      </Box>
    </Box>
  )
}

/** Two stretches of the history, one after the other, each step once. */
function joined(first: readonly HistoryStep[], second: readonly HistoryStep[]): HistoryStep[] {
  const last = first.at(-1)?.revision ?? Infinity
  return [...first, ...second.filter(({ revision }) => revision < last)]
}

interface StepProps {
  readonly step: HistoryStep
  readonly last: boolean
  readonly onCompare: () => void
  readonly onReturn: () => void
}

function StepRow({ step, last, onCompare, onReturn }: StepProps) {
  return (
    <Flex gap="2" py="1" align="baseline" borderBottom="1px solid" borderColor="hairline" data-step={step.revision}>
      <Text color="faded" fontSize="sm" w="6rem" flexShrink={0}>
        {sayMoment(step.madeAt)}
      </Text>
      <Text flex="1" minW="0">
        {step.by !== null && <b>{step.by} </b>}
        {step.kind === 'edit' ? '' : step.kind === 'undo' ? 'took back: ' : 'brought back: '}
        {step.summary}
      </Text>
      <Quiet
        onClick={onCompare}
        aria-label={`What changed since before step ${step.revision}`}
        title="What changed since before this step"
      >
        Compare
      </Quiet>
      <Quiet
        disabled={last}
        onClick={onReturn}
        aria-label={`Return to step ${step.revision}`}
        title="Make the story what it was after this step, as a new change"
      >
        Return
      </Quiet>
    </Flex>
  )
}

function PointField({
  label,
  value,
  history,
  onChange,
}: {
  label: string
  value: number
  history: History
  onChange: (point: number) => void
}) {
  const known = new Set([0, value, history.revision, ...history.versions.map(({ revision }) => revision)])
  return (
    <label>
      {label}{' '}
      <select
        className="field"
        aria-label={`Compare ${label}`}
        value={value}
        onChange={(event) => onChange(Number(event.target.value))}
      >
        {[...known]
          .sort((a, b) => b - a)
          .map((point) => (
            <option key={point} value={point}>
              {history.versions.find(({ revision }) => revision === point)?.name ??
                (point === 0 ? 'the beginning' : point === history.revision ? 'now' : `step ${point}`)}
            </option>
          ))}
      </select>
    </label>
  )
}
