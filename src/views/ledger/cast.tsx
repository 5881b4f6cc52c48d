'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { countWords } from '../../core/base/count-words'
import { newPerson } from '../../core/story/reshape/people-typed'
import { flowOrder } from '../../core/story/reshape/flow-order'
import { linesOf, type Called, type Person, type Story } from '../../core/story/types'
import { nameItem } from '../../core/story/reshape/naming'
import { sayAddress } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { DraftText } from '../shared/fields/draft-text'
import { AddForm } from '../shared/fields/add-form'
import { colourOf, PersonMark } from '../shared/fields/person-mark'
import { useGrowing } from '../../ui/use-growing'
import { useThings } from '../shared/naming/things'
import { useGoTo } from '../shared/session/use-go-to'
import { useSession, useSessionState } from '../shared/session/use-session'
import { listOrNone, removeAt, replaceAt, withKeys } from '../../core/story/reshape/beat-edits'
import { MarginNote } from '../expression/margin-note'
import { Section } from './section'
import { EditId, EditQuiet } from '../shared/fields/edits'

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
    session.edit({ op: 'insert', in: { list: 'cast' }, at: cast.length, item: newPerson(cast, name) })
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
  const story = useSessionState((state) => state.story)
  const session = useSession()
  const things = useThings()
  const goTo = useGoTo()
  const [open, setOpen] = useState(false)
  const replace = (keys: Partial<Person>) =>
    session.edit({ op: 'replace', in: { list: 'cast' }, id: person.id, at, item: { ...person, ...keys } })
  const call = (called: Called[]) =>
    session.edit({
      op: 'replace',
      in: { list: 'cast' },
      id: person.id,
      at,
      item: withKeys(person, { called: listOrNone(called) }),
    })
  // as a beginning: until the first beat in which they are met or speak
  const first = part?.lines[0]?.beat ?? part?.met[0]?.split('.').slice(0, 2).join('.')
  const firstMeeting = first === undefined ? 'true' : `visits('${first}') == 0`
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
            onCommit={(text) =>
              text.trim() !== '' &&
              session.edit(
                nameItem(session.getState().story, { list: 'cast' }, 'person', person, at, text, (id) =>
                  (session.getState().story.cast ?? []).some((one) => one.id === id),
                ),
              )
            }
          />
        </Box>
        <EditId
          fontSize="sm"
          title="Rename it everywhere"
          aria-label={`Rename ${person.id}`}
          onClick={() => things.rename({ of: 'person', id: person.id })}
        >
          {person.id}
        </EditId>
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
        <EditQuiet
          fontSize="sm"
          title="Shown under another name until the player knows better"
          aria-label={`${person.name} is called otherwise until known`}
          onClick={() => call([...(person.called ?? []), { when: firstMeeting, name: 'a stranger' }])}
        >
          + until known
        </EditQuiet>
        <EditQuiet aria-label={`Delete ${person.name}`} onClick={() => things.remove({ of: 'person', id: person.id })}>
          Delete
        </EditQuiet>
      </Flex>
      {(person.called ?? []).map((one, index) => (
        <Flex
          key={index}
          gap="2"
          pl="9"
          pb="1"
          fontSize="sm"
          align="baseline"
          data-called={`${person.id} ${index + 1}`}
        >
          <Text color="faded" whiteSpace="nowrap">
            {index === 0 ? 'called' : 'or else'}
          </Text>
          <Box w="10rem">
            <DraftText
              label={`What ${person.name} is called, ${index + 1}`}
              value={one.name}
              placeholder="the toll-keeper"
              single
              onCommit={(name) => call(replaceAt(person.called, index, { ...one, name: name.trim() }))}
            />
          </Box>
          <Box flex="1" minW="0">
            <MarginNote
              form="gate"
              scene=""
              source={one.when}
              lead="as long as"
              field={`${person.id}:called${index + 1}?when`}
              onChange={(when) =>
                call(
                  when === undefined
                    ? removeAt(person.called, index)
                    : replaceAt(person.called, index, { ...one, when }),
                )
              }
            />
          </Box>
          <EditQuiet
            fontSize="sm"
            aria-label={`Always call ${person.name} by name, ${index + 1}`}
            onClick={() => call(removeAt(person.called, index))}
          >
            Take away
          </EditQuiet>
        </Flex>
      ))}
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
                {sayAddress(line.beat, story)}
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
