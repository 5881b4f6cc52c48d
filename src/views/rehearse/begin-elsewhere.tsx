'use client'

import { parseAddress } from '../../core/base/address'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { operandsOf } from '../../core/expression/ast'
import { parseExpression } from '../../core/expression/parse'
import { printExpression } from '../../core/expression/print'
import { sayCondition } from '../../core/expression/words'
import type { PlayState } from '../../core/play/state'
import type { LinkedStory } from '../../core/story/linked'
import type { Story } from '../../core/story/types'
import { storyNames } from '../../session/names'
import { Main, Plain } from '../../ui/buttons'
import { Combo } from '../../ui/combo'
import { Dialog } from '../../ui/dialog'
import { MarginNote } from '../expression/margin-note'
import { beatOptions } from '../shared/fields/beat-field'
import { Answering } from '../shared/session/answering'
import { useAsk } from '../shared/session/use-ask'
import { useSession, useSessionState } from '../shared/session/use-session'
import { ByHand } from './by-hand'

/** Begins the rehearsal at any beat, by the shortest way in which what is asked for holds there. */
export function BeginElsewhere({
  linked,
  at,
  now,
  onClose,
}: {
  linked: LinkedStory
  at: string
  now: PlayState
  onClose: () => void
}) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const [beat, setBeat] = useState(at)
  const [text, setText] = useState(at)
  const [byHand, setByHand] = useState(false)
  const [condition, setCondition] = useState('')
  const [said, setSaid] = useState<string>()
  const [busy, setBusy] = useState(false)
  const options = text === beat ? [] : beatOptions(story, text)
  const known = story.scenes.some((scene) => scene.beats.some((one) => `${scene.id}.${one.id}` === text))
  const choose = (address: string) => {
    setBeat(address)
    setText(address)
    setSaid(undefined)
  }
  const ask = useAsk()
  const begin = async () => {
    setBusy(true)
    const asked = await ask('find', {
      condition: `at('${text}')${condition === '' ? '' : ` && (${condition})`}`,
    })
    if (asked === undefined) return
    if (!asked.ok) {
      setSaid(`This could not be worked out: ${asked.error}.`)
      return setBusy(false)
    }
    const found = asked.value
    if (found.kind === 'route') {
      session.rehearse(found.route)
      return onClose()
    } else if (found.kind === 'none') setSaid(await whyNone(ask, story, text, condition))
    else setSaid(found.kind === 'undecided' ? 'The story is too large to tell within the time for it.' : found.message)
    setBusy(false)
  }
  return (
    <Dialog title="Begin elsewhere" onClose={onClose}>
      <Text color="faded">
        {byHand
          ? 'The beat is come to with the values below, whether or not any route leads to them; the rehearsal says which.'
          : 'The survey finds the shortest way that really leads there, so the ledger holds what it would hold in play.'}
      </Text>
      <Box>
        <Text>At the beat</Text>
        <Combo
          autoFocus
          label="The beat to begin at"
          eager
          text={text}
          onText={setText}
          options={options}
          onPick={choose}
          onEnter={() => known && void begin()}
          onLeave={() => undefined}
          onCancel={onClose}
        />
      </Box>
      <Box as="label">
        <input type="checkbox" checked={byHand} onChange={(event) => setByHand(event.target.checked)} /> with values set
        by hand
      </Box>
      {byHand ? (
        <ByHand
          key={known ? text : ''}
          linked={linked}
          beat={text}
          now={now}
          onClose={onClose}
          onBegin={(setup) => {
            session.rehearse([], setup)
            onClose()
          }}
        />
      ) : (
        <>
          <Flex gap="2" align="baseline">
            <Text>with</Text>
            <MarginNote
              key={condition}
              form="gate"
              promise
              scene={parseAddress(text)?.scene ?? ''}
              source={condition}
              onChange={(source) => setCondition(source ?? '')}
              field="begin:with"
            />
          </Flex>
          {said !== undefined && (
            <Text role="alert" color="needle">
              {said}
            </Text>
          )}
          {busy && <Answering />}
          <Flex gap="2">
            <Main disabled={!known || busy} onClick={() => void begin()}>
              {busy ? 'Looking …' : 'Begin there'}
            </Main>
            <Plain onClick={onClose}>Cancel</Plain>
          </Flex>
        </>
      )}
    </Dialog>
  )
}

/** Parts of a condition that are asked for one by one. */
const PARTS_MAX = 6

/** Why nobody can begin there: the beat, the parts that are never true at it, or that they are never true together. */
async function whyNone(ask: ReturnType<typeof useAsk>, story: Story, beat: string, condition: string): Promise<string> {
  const never = async (part: string) => {
    const asked = await ask('find', { condition: `at('${beat}')${part === '' ? '' : ` && (${part})`}` })
    return asked?.ok === true && asked.value.kind === 'none'
  }
  if (await never(''))
    return 'On no route does the story rest at this beat: it is never reached, or it always goes on by itself.'
  const parsed = parseExpression(condition)
  const parts = parsed.ok ? operandsOf(parsed.value, 'and') : []
  const names = storyNames(story)
  if (parts.length > 1 && parts.length <= PARTS_MAX) {
    const missing: string[] = []
    for (const part of parts) if (await never(printExpression(part))) missing.push(`“${sayCondition(part, names)}”`)
    return missing.length > 0
      ? `On no route is ${missing.join(' or ')} true where the story rests at this beat.`
      : 'Each of these can be true where the story rests at this beat, but on no route all of them together.'
  }
  return 'On no route is that true where the story rests at this beat. The bearing of the beat on the Desk shows what can be.'
}
