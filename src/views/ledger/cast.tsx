'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { countWords } from '../../core/base/count-words'
import { freshId, idFrom } from '../../core/base/ids'
import { flowOrder } from '../../core/story/reshape/flow-order'
import { linesOf, type Person, type Story } from '../../core/story/types'
import { sayAddress } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { DraftText } from '../shared/fields/draft-text'
import { AddForm } from '../shared/fields/add-form'
import { colourOf, PersonMark } from '../shared/fields/person-mark'
import { useGrowing } from '../../ui/use-growing'
import { useThings } from '../shared/naming/things'
import { useGoTo } from '../shared/session/use-go-to'
import { useSession, useSessionState } from '../shared/session/use-session'
import { Section } from './section'

const SHOWN = 40
/** A colour to begin with, where none was chosen. */
const INK = '#655c50'

interface Spoken {
  readonly beat: string
  readonly text: string
}

interface Part {
  /** In reading order: scene by scene, each in the order in which the story flows through it. */
  readonly lines: Spoken[]
  /** Choices that approach them. */
  readonly met: string[]
  words: number
}

/** The people and things that speak or are met. */
export function Cast() {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const cast = story.cast ?? []
  const parts = useMemo(() => partsOf(story), [story])
  const { shown, end } = useGrowing(cast.length, SHOWN)
  const add = (name: string) => {
    const id = freshId(idFrom(name.split(/\s+/)[0]!, 'person'), (taken) => cast.some((person) => person.id === taken))
    session.edit({ op: 'insert', in: { list: 'cast' }, at: cast.length, item: { id, name } })
  }
  return (
    <Section
      title="Cast"
      hint="Who speaks or is met. On the Desk a name and a colon at the start of a line makes that person the speaker."
    >
      {cast.slice(0, shown).map((person, at) => (
        <PersonRow key={person.id} person={person} at={at} part={parts.get(person.id)} />
      ))}
      {end}
      <AddForm label="Name of somebody new" placeholder="Odile Marsh" action="Add to the cast" onAdd={add} />
    </Section>
  )
}

function PersonRow({ person, at, part }: { person: Person; at: number; part: Part | undefined }) {
  const session = useSession()
  const things = useThings()
  const goTo = useGoTo()
  const [open, setOpen] = useState(false)
  const replace = (keys: Partial<Person>) =>
    session.edit({ op: 'replace', in: { list: 'cast' }, id: person.id, at, item: { ...person, ...keys } })
  const beats = new Set(part?.lines.map(({ beat }) => beat) ?? [])
  const count = (number: number, one: string) => `${number} ${one}${number === 1 ? '' : 's'}`
  const says =
    part === undefined
      ? 'says nothing yet'
      : [
          count(part.lines.length, 'line'),
          count(part.words, 'word'),
          `in ${count(beats.size, 'beat')}`,
          ...(part.met.length > 0 ? [`met by ${count(part.met.length, 'choice')}`] : []),
        ].join(', ')
  return (
    <Box borderBottom="1px solid" borderColor="hairline" data-person={person.id}>
      <Flex gap="3" py="1" align="center">
        <input
          type="color"
          aria-label={`Colour of ${person.name}`}
          title="A colour that marks their lines"
          value={colourOf(person) ?? INK}
          onChange={(event) => replace({ colour: event.target.value })}
          style={{ width: '24px', height: '24px' }}
        />
        <Box w="12rem" fontWeight={600}>
          <DraftText
            label={`Name of ${person.id}`}
            value={person.name}
            single
            onCommit={(text) => text.trim() !== '' && replace({ name: text.trim() })}
          />
        </Box>
        <Quiet
          fontSize="sm"
          title="Rename it everywhere"
          aria-label={`Rename ${person.id}`}
          onClick={() => things.rename({ of: 'person', id: person.id })}
        >
          {person.id}
        </Quiet>
        <Box flex="1" color="faded">
          <DraftText
            label={`Note on ${person.name}`}
            placeholder="note"
            value={person.notes ?? ''}
            onCommit={(notes) => replace({ notes: notes === '' ? undefined : notes })}
          />
        </Box>
        <Quiet
          fontSize="sm"
          aria-expanded={open}
          disabled={part === undefined}
          aria-label={`Lines of ${person.name}`}
          onClick={() => setOpen(!open)}
        >
          {says}
        </Quiet>
        <Quiet aria-label={`Delete ${person.name}`} onClick={() => things.remove({ of: 'person', id: person.id })}>
          Delete
        </Quiet>
      </Flex>
      {open && part !== undefined && (
        <Box pl="9" pb="2" data-lines={person.id}>
          {part.lines.slice(0, SHOWN * 5).map((line, number) => (
            <Flex key={number} gap="3" align="baseline">
              <PersonMark person={person} />
              <Text flex="1" minW="0" fontFamily="story">
                {line.text}
              </Text>
              <Quiet
                fontSize="sm"
                aria-label={`Go to line ${number + 1} of ${person.name}`}
                onClick={() => goTo(line.beat)}
              >
                {sayAddress(line.beat)}
              </Quiet>
            </Flex>
          ))}
          {part.lines.length > SHOWN * 5 && <Text color="faded">and {part.lines.length - SHOWN * 5} more</Text>}
        </Box>
      )}
    </Box>
  )
}

const parts = new WeakMap<Story, ReadonlyMap<string, Part>>()

function partsOf(story: Story): ReadonlyMap<string, Part> {
  const known = parts.get(story)
  if (known !== undefined) return known
  const found = new Map<string, Part>()
  const of = (id: string) => {
    let part = found.get(id)
    if (part === undefined) found.set(id, (part = { lines: [], met: [], words: 0 }))
    return part
  }
  for (const scene of story.scenes) {
    const known = new Map(scene.beats.map((beat) => [beat.id, beat]))
    for (const id of flowOrder(scene)) {
      const beat = known.get(id)!
      const address = `${scene.id}.${beat.id}`
      for (const { speaker, text } of linesOf(beat)) {
        if (speaker === undefined) continue
        const part = of(speaker)
        part.lines.push({ beat: address, text })
        part.words += countWords(text, story.language)
      }
      for (const choice of beat.choices ?? [])
        if (choice.who !== undefined) of(choice.who).met.push(`${address}.${choice.id}`)
    }
  }
  parts.set(story, found)
  return found
}
