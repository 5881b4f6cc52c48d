'use client'

import { inBeat, parseAddress } from '../../../core/base/address'
import { Box, Flex, Text } from '@chakra-ui/react'
import { createContext, useContext, useMemo, useState, type ReactNode } from 'react'
import { plainId } from '../../../core/base/ids'
import { idFrom } from '../../../core/base/id-from'
import { mentionsOf, rename, type Named } from '../../../core/story/rename/rename'
import { beatsRemoval, removal } from '../../../core/story/rename/removal'
import { sayAddress, thingName } from '../../../session/names'
import { Main, Plain } from '../../../ui/buttons'
import { Dialog } from '../../../ui/dialog'
import { Answering } from '../session/answering'
import { NoAnswer } from '../session/no-answer'
import { answerOf, useAnswer } from '../session/use-answer'
import { sayDifference } from './say-difference'
import { useSession, useSessionState } from '../session/use-session'
import { said } from '../said'

/** Renames and deletes anything that has a name, after saying what that touches. */
export interface Things {
  readonly rename: (named: Named) => void
  readonly remove: (named: Named) => void
  /** Deletes several beats together. */
  readonly removeBeats: (addresses: readonly string[]) => void
}

const ThingsContext = createContext<Things | undefined>(undefined)

export function useThings(): Things {
  const things = useContext(ThingsContext)
  if (things === undefined) throw new Error('internal: outside of a story')
  return things
}

type Asked =
  | { readonly kind: 'rename' | 'remove'; readonly named: Named }
  | { readonly kind: 'beats'; readonly addresses: readonly string[] }

export function ThingsProvider({ children }: { children: ReactNode }) {
  const session = useSession()
  const [asked, setAsked] = useState<Asked>()
  const things = useMemo<Things>(
    () => ({
      rename: (named) => setAsked({ kind: 'rename', named }),
      remove: (named) => {
        const { story } = session.getState()
        // what nothing names is gone at once, and one key brings it back
        const change = removal(story, named)
        if (change === undefined) return
        if (mentionsOf(story, named) === 0 && named.of !== 'scene') session.edit(change)
        else setAsked({ kind: 'remove', named })
      },
      removeBeats: (addresses) => {
        const { story } = session.getState()
        const change = beatsRemoval(story, addresses)
        if (change === undefined) return
        if (addresses.some((address) => mentionsOf(story, beatNamed(address)) > 0))
          setAsked({ kind: 'beats', addresses })
        else session.edit(change)
      },
    }),
    [session],
  )
  return (
    <ThingsContext.Provider value={things}>
      {children}
      {asked?.kind === 'rename' && <RenameDialog named={asked.named} onClose={() => setAsked(undefined)} />}
      {asked?.kind === 'remove' && <RemoveDialog what={[asked.named]} onClose={() => setAsked(undefined)} />}
      {asked?.kind === 'beats' && (
        <RemoveDialog what={asked.addresses.map(beatNamed)} onClose={() => setAsked(undefined)} />
      )}
    </ThingsContext.Provider>
  )
}

function beatNamed(address: string): Named {
  const { scene, beat: id } = parseAddress(address) ?? {}
  return { of: 'beat', scene: scene!, id: id! }
}

/** What "toll paid" is typed as, or a position as it stands. */
function idOf(named: Named, text: string): string {
  return named.of === 'position' ? text.trim() : idFrom(text, named.of)
}

function RenameDialog({ named, onClose }: { named: Named; onClose: () => void }) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const [text, setText] = useState(plainId(named.id))
  const id = idOf(named, text)
  const mentions = useMemo(() => mentionsOf(story, named), [story, named])
  const renamed = text.trim() === '' || id === named.id ? undefined : rename(story, named, id)
  const trouble = renamed !== undefined && !renamed.ok ? renamed.error : undefined
  return (
    <Dialog title={`Rename the ${named.of} “${plainId(named.id)}”`} onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (renamed?.ok) {
            const { beat } = session.getState()
            session.edit(renamed.value.change)
            if (named.of === 'beat' && beat === `${named.scene}.${named.id}`) session.goTo(`${named.scene}.${id}`)
            if (named.of === 'scene' && beat !== undefined && parseAddress(beat)?.scene === named.id)
              session.goTo(inBeat(beat, { scene: id, beat: parseAddress(beat)!.beat }))
          }
          if (trouble === undefined) onClose()
        }}
      >
        <Box asChild w="100%" className="field">
          <input
            autoFocus
            aria-label="New name"
            value={text}
            onChange={(event) => setText(event.target.value)}
            onFocus={(event) => event.target.select()}
          />
        </Box>
        <Text color={trouble === undefined ? 'faded' : 'needle'} mt="2" role="status">
          {trouble ?? (
            <>
              {id === named.id ? '' : `In expressions: ${id}. `}
              {mentions === 0
                ? 'Nothing names it yet.'
                : `Named in ${said(mentions, 'place')}: gates, effects, texts, roads and routes are all rewritten.`}
            </>
          )}
        </Text>
        <Flex gap="2" mt="4">
          <Main type="submit" disabled={renamed === undefined || trouble !== undefined}>
            Rename
          </Main>
          <Plain type="button" onClick={onClose}>
            Cancel
          </Plain>
        </Flex>
      </form>
    </Dialog>
  )
}

/** Places that are listed by name. */
const LISTED = 8

function RemoveDialog({ what, onClose }: { what: readonly Named[]; onClose: () => void }) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const [named] = what
  const change = useMemo(
    () =>
      what.length === 1
        ? removal(story, what[0]!)
        : beatsRemoval(
            story,
            what.map((one) => (one.of === 'beat' ? `${one.scene}.${one.id}` : '')),
          ),
    [story, what],
  )
  const asked = useAnswer(
    'what-if',
    change && what.map((one) => JSON.stringify(one)).join(),
    () => change && { change },
  )
  const answer = answerOf(asked)
  const mentions = useMemo(() => what.reduce((sum, one) => sum + mentionsOf(story, one), 0), [story, what])
  const broken =
    answer !== undefined
      ? [...new Set(answer.difference.appeared.filter(({ kind }) => kind === 'problem').map(({ key }) => key[0]!))]
      : []
  const said =
    answer !== undefined
      ? sayDifference(
          story,
          {
            ...answer.difference,
            appeared: answer.difference.appeared.filter(({ kind }) => kind !== 'problem'),
            settled: [],
          },
          what,
        )
      : []
  return (
    <Dialog
      title={
        what.length === 1 ? `Delete the ${named!.of} “${thingName(story, named!)}”?` : `Delete ${what.length} beats?`
      }
      onClose={onClose}
    >
      <Box overflowY="auto" tabIndex={0} role="group" aria-label="What it would do">
        <Text>
          {mentions === 0
            ? 'Nothing names it from outside.'
            : `${mentions} ${mentions === 1 ? 'place names' : 'places name'} ${what.length === 1 ? 'it' : 'them'}.`}
        </Text>
        {broken.length > 0 && (
          <>
            <Text mt="2">These would no longer be understood, and are marked until they are mended:</Text>
            <Box as="ul" pl="5" listStyleType="disc" color="faded">
              {broken.slice(0, LISTED).map((address) => (
                <li key={address}>{sayAddress(address, story)}</li>
              ))}
              {broken.length > LISTED && <li>and {broken.length - LISTED} more</li>}
            </Box>
          </>
        )}
        <Box aria-live="polite" mt="2" data-what-if={answer === undefined ? 'asking' : 'told'}>
          {asked.status === 'asking' && <Text color="faded">Surveying what would become of the story …</Text>}
          {asked.status === 'asking' && <Answering />}
          {asked.status === 'failed' && <NoAnswer {...asked} />}
          {answer !== undefined && said.length === 0 && (
            <Text color="faded">Every beat, choice, ending and stage that is reached now stays reached.</Text>
          )}
          {said.length > 0 && (
            <Box as="ul" pl="5" listStyleType="disc">
              {said.slice(0, LISTED + 4).map((line) => (
                <li key={line}>{line}</li>
              ))}
              {said.length > LISTED + 4 && <li>and {said.length - LISTED - 4} more</li>}
            </Box>
          )}
          {answer !== undefined && !answer.complete && (
            <Text color="faded">The survey was cut short, so there may be more.</Text>
          )}
        </Box>
      </Box>
      <Flex gap="2" mt="2">
        <Main
          autoFocus
          onClick={() => {
            if (change !== undefined) session.edit(change)
            onClose()
          }}
        >
          Delete
        </Main>
        <Plain onClick={onClose}>Keep it</Plain>
      </Flex>
    </Dialog>
  )
}
