'use client'

import { plainId } from '../../core/base/ids'
import { beatOf } from '../../core/base/address'
import { Box, Text } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { useEffect, useMemo, useState } from 'react'
import type { Story } from '../../core/story/types'
import { api } from '../../session/api'
import type { Hit } from '../../core/contract/answers'
import { sayAddress } from '../../session/names'
import { Dialog } from '../../ui/dialog'
import { Offers, tieToOffers } from '../../ui/offers'
import { useGoTo } from '../shared/session/use-go-to'
import { useSessionState } from '../shared/session/use-session'
import type { Command } from './commands'
import { KEY_TABLE, sayKey } from './key-table'

interface Option {
  readonly key: string
  readonly kind: string
  readonly label: string
  readonly hint?: string | undefined
  readonly run: () => void
}

const SHOWN = 40
const LIST = 'palette-options'
/** After so long without a keystroke the database is asked, in milliseconds. */
const PAUSE_MS = 120

interface Props {
  readonly id: string
  readonly commands: readonly Command[]
  readonly onClose: () => void
}

/** Everything that can be done or gone to, by a few of its letters. */
export function Palette({ id, commands, onClose }: Props) {
  const goTo = useGoTo()
  const router = useRouter()
  const story = useSessionState((state) => state.story)
  const [text, setText] = useState('')
  const [at, setAt] = useState(0)
  const [hits, setHits] = useState<readonly Hit[]>([])
  useEffect(() => {
    let left = false
    const wait = setTimeout(() => {
      if (text.trim().length < 2) return setHits([])
      void api.search(id, text).then((answer) => !left && setHits(answer.ok ? answer.value : []))
    }, PAUSE_MS)
    return () => {
      left = true
      clearTimeout(wait)
    }
  }, [id, text])

  const options = useMemo(() => {
    const toLedger = () => router.push(`/story/${id}/ledger`)
    const all: Option[] = [
      ...commands.flatMap(({ id: command, name, hint, run }): Option[] =>
        command === 'palette'
          ? []
          : [{ key: `do ${command}`, kind: 'do', label: name, hint: keyOf(command) ?? hint, run }],
      ),
      ...placesOf(story, goTo, toLedger),
    ]
    const { sure, loose } =
      text.trim() === '' ? { sure: all.filter(({ kind }) => kind === 'do'), loose: [] } : ranked(all, text)
    const words = hits
      .filter(
        ({ kind, text: said }) =>
          kind === 'line' ||
          kind === 'choice' ||
          kind === 'question' ||
          // by its title it is among the places already
          (kind === 'beat' && !said.toLowerCase().includes(text.trim().toLowerCase())),
      )
      .map((hit, index): Option => {
        const beat = beatOf(hit.address) ?? hit.address
        return {
          key: `text ${index} ${hit.address}`,
          kind: hit.kind,
          label: hit.text || (hit.notes ?? ''),
          hint: sayAddress(beat, story),
          run: () => goTo(hit.address),
        }
      })
    return once([...sure.slice(0, SHOWN), ...words, ...loose]).slice(0, 2 * SHOWN)
  }, [commands, story, text, hits, goTo, router, id])

  const chosen = Math.min(at, options.length - 1)
  const take = (option: Option | undefined) => {
    if (option === undefined) return
    onClose()
    // the dialog gives the focus back first
    queueMicrotask(option.run)
  }
  return (
    <Dialog title="Do or go to" onClose={onClose}>
      <Box asChild w="100%" className="field">
        <input
          autoFocus
          role="combobox"
          aria-label="What to do or where to go"
          aria-expanded
          {...tieToOffers(LIST, options.length, chosen)}
          aria-controls={LIST}
          placeholder="A beat, a person, an entry, words of a line, or what to do"
          value={text}
          onChange={(event) => {
            setText(event.target.value)
            setAt(0)
          }}
          onKeyDown={(event) => {
            const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
            if (step !== 0) {
              event.preventDefault()
              setAt((chosen + step + options.length) % Math.max(1, options.length))
            } else if (event.key === 'Enter') {
              event.preventDefault()
              take(options[chosen])
            }
          }}
        />
      </Box>
      <Offers
        id={LIST}
        label="What was found"
        offers={options}
        chosen={chosen}
        keyOf={({ key }) => key}
        onTake={take}
        onPoint={setAt}
        overflowY="auto"
        h="20rem"
        tabIndex={0}
      >
        {({ kind, label, hint }) => (
          <>
            <Text as="span" color="faded" fontSize="xs" w="4rem" flexShrink={0}>
              {kind}
            </Text>
            <Text as="span" flex="1" truncate fontFamily={kind === 'do' ? 'body' : 'story'}>
              {label}
            </Text>
            <Text as="span" color="faded" fontSize="xs" flexShrink={0} maxW="12rem" truncate>
              {hint}
            </Text>
          </>
        )}
      </Offers>
      {options.length === 0 && <Text color="faded">Nothing has that in its name or its text.</Text>}
    </Dialog>
  )
}

function keyOf(command: string): string | undefined {
  const key = KEY_TABLE[command]
  return key === undefined ? undefined : sayKey(key)
}

function placesOf(story: Story, toBeat: (address: string) => void, toLedger: () => void): Option[] {
  const places: Option[] = []
  const add = (kind: string, id: string, label: string, hint: string | undefined, run: () => void) =>
    places.push({ key: `${kind} ${id}`, kind, label, hint, run })
  for (const scene of story.scenes) {
    if (scene.beats[0] !== undefined)
      add('scene', scene.id, scene.title, undefined, () => toBeat(`${scene.id}.${scene.beats[0]!.id}`))
    for (const beat of scene.beats)
      add('beat', `${scene.id}.${beat.id}`, beat.title ?? plainId(beat.id), scene.title, () =>
        toBeat(`${scene.id}.${beat.id}`),
      )
    for (const entry of scene.ledger ?? [])
      add('entry', entry.id, entry.name ?? plainId(entry.id), `${entry.kind} of ${scene.title}`, toLedger)
  }
  for (const person of story.cast ?? []) add('person', person.id, person.name, undefined, toLedger)
  for (const entry of story.ledger ?? []) add('entry', entry.id, entry.name ?? plainId(entry.id), entry.kind, toLedger)
  for (const quest of story.quests ?? []) {
    add('quest', quest.id, quest.name, undefined, toLedger)
    for (const stage of quest.stages) add('stage', `${quest.id}.${stage.id}`, stage.name, quest.name, toLedger)
  }
  for (const ending of story.endings ?? []) {
    const at = story.scenes
      .flatMap((scene) => scene.beats.map((beat) => ({ address: `${scene.id}.${beat.id}`, beat })))
      .find(({ beat }) => beat.ending === ending.id)
    add('ending', ending.id, ending.name, undefined, at === undefined ? toLedger : () => toBeat(at.address))
  }
  return places
}

/** Those whose name has what was typed, at the beginnings of words first, then the shortest; and those that have just its letters in order. */
function ranked(options: readonly Option[], text: string): { readonly sure: Option[]; readonly loose: Option[] } {
  const wanted = text.trim().toLowerCase()
  const sure: { option: Option; score: number }[] = []
  const loose: Option[] = []
  for (const option of options) {
    const label = option.label.toLowerCase()
    const start = label.indexOf(wanted)
    if (start >= 0)
      sure.push({
        option,
        score: (start === 0 ? 0 : /[\p{L}\p{N}]/u.test(label[start - 1]!) ? 2000 : 1000) + label.length,
      })
    else if (inOrder(label, wanted)) loose.push(option)
  }
  return { sure: sure.sort((a, b) => a.score - b.score).map(({ option }) => option), loose }
}

function inOrder(label: string, wanted: string): boolean {
  let from = 0
  for (const sign of wanted) {
    if (sign === ' ') continue
    from = label.indexOf(sign, from) + 1
    if (from === 0) return false
  }
  return true
}

/** Each thing once: what is found by its name and by its words is one offer. */
function once(options: readonly Option[]): Option[] {
  const known = new Set<string>()
  return options.filter(({ kind, label, hint }) => {
    const name = JSON.stringify([kind, label, hint])
    return !known.has(name) && known.add(name)
  })
}
