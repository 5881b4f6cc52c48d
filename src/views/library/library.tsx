'use client'

import { Box, chakra, Flex, Heading, Input, Text } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { useEffect, useRef, useState, type DragEvent } from 'react'
import { SearchField } from '../../ui/search-field'
import { api, type ApiError } from '../../session/api'
import { ORDERS, type Card, type Cards, type Order } from '../../core/contract/answers'
import { prepareSurvey } from '../../session/survey-handle'
import type { Result } from '../../core/base/result'
import { Main, Plain, Quiet } from '../../ui/buttons'
import { PickFile } from '../../ui/pick-file'
import { HouseBar } from '../members/house-bar'
import { FromScript } from './from-script'
import { replaceBy, SameQuestion, sameStory, type Same } from './same-story'
import { StoryRow } from './story-row'

type Said = { readonly kind: 'trouble'; readonly text: string } | { readonly kind: 'deleted'; readonly card: Card }

/** After the page is drawn, until the survey's worker is started for the story that will be opened. */
const PREPARE_MS = 300

/** How often one asks how far an import is, in milliseconds. */
const PROGRESS_MS = 700

const ORDER_NAMES: Readonly<Record<Order, string>> = {
  changed: 'last change',
  title: 'title',
  errors: 'errors',
  todos: 'to-dos',
  words: 'words',
}

/** The library: every story on this desk. */
export function Library({ first }: { first: Cards }) {
  const router = useRouter()
  const [{ cards, total }, setShown] = useState(first)
  const [search, setSearch] = useState('')
  const [order, setOrder] = useState<Order>('changed')
  const asked = useRef(0)
  const [said, setSaid] = useState<Said>()
  const [busy, setBusy] = useState(false)
  const [progress, setProgress] = useState<{ name: string; done: number; of: number }>()
  const [title, setTitle] = useState('')
  const [isScript, setScript] = useState(false)
  const [same, setSame] = useState<Same>()
  // once the page is drawn: one of the stories will be opened
  useEffect(() => {
    const timer = setTimeout(prepareSurvey, PREPARE_MS)
    return () => clearTimeout(timer)
  }, [])

  const refresh = async (text = search, by = order) => {
    const question = (asked.current += 1)
    const list = await api.list(text, 0, by)
    // of two questions the later one is answered
    if (question !== asked.current) return
    if (list.ok) setShown(list.value)
    else setSaid({ kind: 'trouble', text: list.error.message })
  }
  const more = async () => {
    const question = (asked.current += 1)
    const list = await api.list(search, cards.length, order)
    if (question !== asked.current) return
    if (list.ok) setShown({ cards: [...cards, ...list.value.cards], total: list.value.total })
    else setSaid({ kind: 'trouble', text: list.error.message })
  }
  const act = async <T,>(work: Promise<Result<T, ApiError>>, then: (value: T) => void, prefix = '') => {
    setBusy(true)
    setSaid(undefined)
    const done = await work
    setBusy(false)
    if (done.ok) then(done.value)
    else setSaid({ kind: 'trouble', text: prefix + done.error.message })
  }
  const open = ({ id }: { id: string }) => router.push(`/story/${id}/desk`)
  const create = () => {
    if (title.trim() === '')
      setSaid({ kind: 'trouble', text: 'Give the story a title first; it can be changed later.' })
    else void act(api.create(title.trim()), open)
  }
  const take = (files: readonly File[]) => {
    const [first] = files
    if (first === undefined) return
    setSame(undefined)
    void sameStory(first).then((found) => (found === undefined ? importFile(first) : setSame(found)))
  }
  const importFile = (first: File) => {
    setSame(undefined)
    const id = crypto.randomUUID()
    // a small file is in before anything could be read of it
    const watch = setInterval(() => {
      void api.importProgress(id).then((at) => at.ok && setProgress({ name: first.name, ...at.value }))
    }, PROGRESS_MS)
    const work = api.importFile(first, id).finally(() => {
      clearInterval(watch)
      setProgress(undefined)
    })
    void act(work, open, `“${first.name}” could not be imported.\n`)
  }
  const drop = (event: DragEvent) => {
    event.preventDefault()
    take([...event.dataTransfer.files])
  }
  return (
    <Box
      as="main"
      maxW="60rem"
      mx="auto"
      px="6"
      py="8"
      minH="100vh"
      onDragOver={(event) => event.preventDefault()}
      onDrop={drop}
    >
      <HouseBar />
      <Heading as="h1" fontFamily="story" fontWeight={500} fontSize="2xl" mt="8">
        Stories
      </Heading>
      <Flex
        as="form"
        mt="4"
        gap="2"
        align="center"
        wrap="wrap"
        onSubmit={(event) => {
          event.preventDefault()
          create()
        }}
      >
        <Input
          aria-label="Title of a new story"
          placeholder="Title of a new story"
          value={title}
          maxLength={200}
          onChange={(event) => setTitle(event.target.value)}
          flex="1"
          minW="14rem"
          h="2.1rem"
          bg="sheet"
          borderColor="edge"
          borderRadius="sheet"
          fontFamily="story"
          _placeholder={{ color: 'faded' }}
        />
        <Main type="submit" disabled={busy}>
          Begin it
        </Main>
        <Plain type="button" disabled={busy} onClick={() => setScript(true)}>
          From a script…
        </Plain>
        <PickFile label="Story file" accept=".json,application/json" disabled={busy} onPick={take}>
          Import a file…
        </PickFile>
      </Flex>
      {isScript && (
        <FromScript
          title={title.trim()}
          onClose={() => setScript(false)}
          onBegin={(made) => {
            setScript(false)
            importFile(made)
          }}
        />
      )}
      {same !== undefined && (
        <SameQuestion
          same={same}
          busy={busy}
          onReplace={() => void act(replaceBy(same), open, `“${same.file.name}” could not be taken over.\n`)}
          onBeside={() => importFile(same.file)}
          onLeave={() => setSame(undefined)}
        />
      )}
      <Box role="status" minH="6" mt="2" whiteSpace="pre-wrap" color={said?.kind === 'trouble' ? 'needle' : 'faded'}>
        {progress !== undefined &&
          (progress.of === 0
            ? `Reading “${progress.name}” …`
            : `“${progress.name}”: ${progress.done} of ${progress.of} beats are in.`)}
        {said?.kind === 'trouble' && said.text}
        {said?.kind === 'deleted' && (
          <>
            “{said.card.title}” was deleted.{' '}
            <Quiet color="needle" onClick={() => void act(api.restore(said.card.id), () => void refresh())}>
              Undo
            </Quiet>
          </>
        )}
      </Box>
      {(first.total > 1 || search !== '') && (
        <Flex gap="4" align="center" wrap="wrap">
          <Box w="20rem" maxW="100%">
            <SearchField
              label="Search the titles"
              text={search}
              onText={(text) => {
                setSearch(text)
                void refresh(text)
              }}
            />
          </Box>
          <chakra.label fontSize="sm" color="faded">
            Order by{' '}
            <select
              className="field"
              value={order}
              onChange={(event) => {
                const by = event.target.value as Order
                setOrder(by)
                void refresh(search, by)
              }}
            >
              {ORDERS.map((one) => (
                <option key={one} value={one}>
                  {ORDER_NAMES[one]}
                </option>
              ))}
            </select>
          </chakra.label>
        </Flex>
      )}
      <Box mt="2" bg="sheet" borderTop="1px solid" borderColor="hairline">
        {cards.map((card) => (
          <StoryRow
            key={card.id}
            card={card}
            onDuplicate={() => void act(api.duplicate(card.id), () => void refresh())}
            onDelete={() =>
              void act(api.remove(card.id), () => {
                setShown((all) => ({
                  cards: all.cards.filter((one) => one.id !== card.id),
                  total: all.total - 1,
                }))
                setSaid({ kind: 'deleted', card })
              })
            }
          />
        ))}
        {cards.length < total && (
          <Flex p="3" gap="3" align="baseline" justify="center">
            <Plain type="button" onClick={() => void more()}>
              Show more
            </Plain>
            <Text color="faded" fontSize="sm">
              {cards.length} of {total}
            </Text>
          </Flex>
        )}
        {cards.length === 0 && search !== '' && (
          <Text p="8" color="faded">
            No story has “{search}” in its title.
          </Text>
        )}
        {cards.length === 0 && search === '' && <Empty />}
      </Box>
    </Box>
  )
}

/** Says what this is and how to begin. */
function Empty() {
  return (
    <Box p="8" maxW="44rem">
      <Text fontFamily="story" fontSize="lg">
        Here one writes stories that branch, and sees while writing whether every stage of a quest and every ending can
        still be reached, and by which shortest route.
      </Text>
      <Text mt="4">There are three ways to begin, all of them above:</Text>
      <chakra.ol mt="2" pl="6" listStyleType="decimal" display="grid" gap="2">
        <li>
          <b>From nothing:</b> give the story a title and press <i>Begin it</i>. The cursor waits in its first line.
        </li>
        <li>
          <b>From a script:</b> paste dialogue written elsewhere; it becomes lines, speakers, choices and beats.
        </li>
        <li>
          <b>From a file:</b> import a <code>.story.json</code>, or drop it anywhere on this page.
        </li>
      </chakra.ol>
    </Box>
  )
}
