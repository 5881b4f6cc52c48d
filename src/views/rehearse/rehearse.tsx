'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { bindKeys } from '../../ui/key-bindings'
import { playThrough, type PlayedStep, type Transcript } from '../../core/play/transcript'
import type { LinkedCue, LinkedStory } from '../../core/story/linked'
import { decisionsIn, type RouteItem } from '../../core/story/types'
import { Plain, Quiet } from '../../ui/buttons'
import { EditPlain } from '../shared/fields/edits'
import { Columns } from '../../ui/columns'
import { PersonMark } from '../shared/fields/person-mark'
import { sayDecision } from '../shared/naming/route-steps'
import { useLinked, useSession, useSessionState } from '../shared/session/use-session'
import { useGoTo } from '../shared/session/use-go-to'
import { runName } from '../../session/story-session'
import { BeginElsewhere } from './begin-elsewhere'
import { GivenPanel } from './given-panel'
import { KeepRoute } from './keep-route'
import { LedgerPanel } from './ledger-panel'
import { MadeUp } from './made-up'
import { Offer } from './offer'
import { directionOf } from '../../core/base/direction'
import { inLanguage } from '../../core/story/in-language'
import { languageName } from '../shared/naming/language-name'
import { useAddressed } from '../shared/session/use-addressed'
import { isSave } from '../../core/play/save'
import { sayAddress } from '../../session/names'
import { Saves } from './saves'
import { TriedRuns } from './tried-runs'
import { Where } from './where'
import { said } from '../shared/said'

/** The play on the left, the ledger on the right with what the last decision changed. */
export function Rehearse({ beside = false }: { readonly beside?: boolean }) {
  const session = useSession()
  const rehearsal = useSessionState((state) => state.rehearsal)
  const { decisions, tried, from } = rehearsal
  const [spoken, speak] = useAddressed('spoken')
  const written = useLinked()
  const language = spoken ?? written.doc.language
  const linked = useMemo(() => inLanguage(written, language), [written, language])
  const transcript = useMemo(() => playThrough(linked, decisions, from), [linked, decisions, from])
  const play = (next: readonly RouteItem[]) => session.rehearse(next, from)
  const isTried = (decision: RouteItem) => tried.has(runName([...taken, decision]))
  const taken = decisions.slice(0, transcript.steps.length - 1)
  const last = transcript.steps.at(-1)!
  const decided = decisionsIn(taken)
  const [keeping, setKeeping] = useState(false)
  const [beginning, setBeginning] = useState<string>()
  const goToText = useGoToText(last)
  const here = last.beats.at(-1)
  // the outline and the bearing follow the play
  useEffect(() => {
    if (here !== undefined) session.followPlay(here)
  }, [session, here])

  const end = useRef<HTMLDivElement>(null)
  const lastStep = useRef<HTMLDivElement>(null)
  useEffect(() => {
    end.current?.scrollIntoView({ block: 'nearest' })
    // of a step that is longer than the page, the beginning
    lastStep.current?.scrollIntoView({ block: 'nearest' })
  }, [transcript])

  // a layout effect: the keys work as soon as the page shows what they do
  useLayoutEffect(() => {
    const typing = (event: KeyboardEvent) =>
      event.target instanceof HTMLElement && event.target.matches('input, textarea, select')
    return bindKeys({
      Backspace: (event) => {
        if (typing(event) || taken.length === 0) return
        event.preventDefault()
        play(taken.slice(0, -1))
      },
      e: (event) => {
        if (typing(event)) return
        event.preventDefault()
        goToText()
      },
    })
  })
  return (
    <Columns
      name={beside ? 'beside' : 'rehearse'}
      as={beside ? 'section' : 'main'}
      label="Rehearsal"
      start={{
        name: 'where one is',
        width: 15,
        openFrom: 60,
        content: (
          <Box overflowY="auto" px="3" py="4" tabIndex={-1} fontSize="sm">
            <Where linked={linked} state={last.state} onBegin={setBeginning} />
            <TriedRuns linked={linked} rehearsal={rehearsal} />
          </Box>
        ),
      }}
      end={{
        name: 'what is remembered',
        width: 18.5,
        openFrom: 56,
        content: (
          <LedgerPanel
            linked={linked}
            step={last}
            before={transcript.steps.at(-2)}
            given={<GivenPanel linked={linked} taken={taken} state={last.state} onPlay={play} />}
          />
        ),
      }}
    >
      <Box overflowY="auto" px={beside ? '3' : '6'} py="5" minW="0" tabIndex={-1}>
        <Box
          maxW="44rem"
          mx="auto"
          bg="sheet"
          border="1px solid"
          borderColor="hairline"
          borderRadius="sheet"
          px="9"
          py="6"
          minH="100%"
        >
          <Flex gap="2" align="center" mb="4" wrap="wrap">
            <Plain disabled={taken.length === 0} onClick={() => play(taken.slice(0, -1))} title="Backspace">
              One step back
            </Plain>
            <Plain disabled={taken.length === 0 && from === undefined} onClick={() => session.rehearse([])}>
              From the start
            </Plain>
            <Plain
              onClick={() => setBeginning(here ?? '')}
              title="From any beat, in a state that can really occur there"
            >
              Begin elsewhere
            </Plain>
            <EditPlain
              disabled={taken.length === 0 || from !== undefined}
              onClick={() => setKeeping(true)}
              title={
                from === undefined
                  ? 'Keep this run as a route that is played again after every edit'
                  : 'A run that begins with made-up values, or a save, is no route of the story'
              }
            >
              Keep as a route
            </EditPlain>
            <Saves linked={linked} state={last.state} />
            <SpokenIn linked={written} language={language} onSpeak={speak} />
            <Text color="faded" fontSize="sm">
              {taken.length === 0 ? 'A new playthrough' : `${said(decided, 'decision')} taken`}
            </Text>
          </Flex>
          {from !== undefined && isSave(from) && (
            <Box role="status" border="1px dashed" borderColor="edge" px="4" py="2" mb="4" data-loaded={from.at}>
              Loaded: this run goes on from a save at {sayAddress(from.at)}.
              {linked.beatOf.has(from.at) ? '' : ' That beat is gone, so one is at the place, or at the start.'}
            </Box>
          )}
          {from !== undefined && !isSave(from) && (
            <MadeUp key={JSON.stringify(from)} linked={linked} from={from} first={transcript.steps[0]!.state} />
          )}
          <div role="log" aria-label="What is played" lang={language} dir={directionOf(language)}>
            {transcript.steps.map((step, at) => (
              <Step
                key={at}
                linked={linked}
                ref={at === transcript.steps.length - 1 ? lastStep : undefined}
                step={step}
                at={at}
                last={at === transcript.steps.length - 1}
                onBackTo={() => play(taken.slice(0, at))}
                onText={goToText}
              />
            ))}
          </div>
          {transcript.refused !== undefined && <Refused transcript={transcript} onGoOn={() => play(taken)} />}
          <Offer
            linked={linked}
            state={last.state}
            step={transcript.steps.length}
            isTried={isTried}
            onDecide={(decision) => play([...taken, decision])}
          />
          <div ref={end} />
        </Box>
      </Box>
      {beginning !== undefined && (
        <BeginElsewhere linked={linked} at={beginning} now={last.state} onClose={() => setBeginning(undefined)} />
      )}
      {keeping && <KeepRoute linked={linked} state={last.state} decisions={taken} onClose={() => setKeeping(false)} />}
    </Columns>
  )
}

/** Opens the beat that the play is at on the Desk. */
function useGoToText(step: PlayedStep): () => void {
  const session = useSession()
  const goTo = useGoTo()
  return () => {
    const place = step.beats.at(-1) ?? session.getState().beat
    if (place !== undefined) goTo(place)
  }
}

function Step({
  linked,
  ref,
  step,
  at,
  last,
  onBackTo,
  onText,
}: {
  linked: LinkedStory
  ref: React.Ref<HTMLDivElement> | undefined
  step: PlayedStep
  at: number
  last: boolean
  onBackTo: () => void
  onText: () => void
}) {
  const story = useSessionState((state) => state.story)
  return (
    <Box ref={ref} fontFamily="story" fontSize="md" lineHeight={1.6} pb="2">
      {step.decision !== undefined && (
        <Flex gap="3" align="baseline" my="3" pl="6" color="faded">
          <Text as="span" fontStyle="italic" color="needle">
            {sayDecision(story, step.decision)}
            <Cues cues={step.cues} />
          </Text>
          {!last && (
            <Quiet fontFamily="body" fontSize="sm" onClick={onBackTo} aria-label={`Back to before step ${at}`}>
              another road from here
            </Quiet>
          )}
        </Flex>
      )}
      {step.lines.map((line, index) => (
        <Box
          key={index}
          mb="1.5"
          pl={line.speaker === undefined ? '0' : '6'}
          fontStyle={line.manner === 'action' || line.manner === 'thought' ? 'italic' : undefined}
        >
          {line.speaker !== undefined && (
            <Text
              fontFamily="body"
              fontVariantCaps="all-small-caps"
              letterSpacing="0.05em"
              fontWeight={600}
              ml="-6"
              lineHeight={1.3}
            >
              <PersonMark person={story.cast?.find((person) => person.id === line.speaker)} />
              {line.name}
            </Text>
          )}
          <Text whiteSpace="pre-wrap">
            {line.text}
            <Cues cues={line.cues} />
          </Text>
        </Box>
      ))}
      {last && step.state.at >= 0 && (
        <Quiet
          fontFamily="body"
          fontSize="sm"
          px="0"
          title="Change it, then come back: the play goes on from here (E)"
          onClick={onText}
        >
          at {sayAddress(linked.beats[step.state.at]!.address)}: go to the text
        </Quiet>
      )}
    </Box>
  )
}

/** What the game is told to do at this point. */
function Cues({ cues }: { cues: readonly LinkedCue[] }) {
  const story = useSessionState((state) => state.story)
  return cues.map(({ cue, with: passed }, at) => (
    <Text as="span" key={at} ml="2" fontFamily="body" fontStyle="normal" fontSize="xs" color="faded" data-cue={cue}>
      ◇ {story.cues?.find(({ id }) => id === cue)?.name ?? cue}
      {passed === undefined ? '' : `: ${passed}`}
    </Text>
  ))
}

function Refused({ transcript, onGoOn }: { transcript: Transcript; onGoOn: () => void }) {
  const story = useSessionState((state) => state.story)
  const { refused } = transcript
  if (refused === undefined) return null
  return (
    <Box role="alert" border="1px solid" borderColor="needle" bg="needle.wash" px="4" py="2" my="3">
      Step {refused.step}, “{sayDecision(story, refused.decision)}”, no longer holds: {refused.why}.{' '}
      <Quiet color="needle" onClick={onGoOn}>
        Go on from here
      </Quiet>
    </Box>
  )
}

/** In which language the play speaks; the story's own where a text is missing. */
function SpokenIn({
  linked,
  language,
  onSpeak,
}: {
  linked: LinkedStory
  language: string
  onSpeak: (language: string | undefined) => void
}) {
  const { doc } = linked
  const others = Object.keys(doc.languages ?? {}).filter((tag) => tag !== doc.language)
  if (others.length === 0) return null
  return (
    <select
      className="field"
      aria-label="Spoken in"
      value={language}
      onChange={({ target }) => onSpeak(target.value === doc.language ? undefined : target.value)}
    >
      {[doc.language, ...others].map((tag) => (
        <option key={tag} value={tag}>
          {languageName(tag)}
        </option>
      ))}
    </select>
  )
}
