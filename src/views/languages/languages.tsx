'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { glossaryOf } from '../../core/texts/glossary'
import { rowsToWorkAt } from '../../core/texts/proofs'
import { isTooLong, signsOf } from '../../core/texts/length'
import { TEXT_STATES, countStates, textRows, type TextRow, type TextState } from '../../core/texts/rows'
import { pseudoTag, pseudoTexts } from '../../core/texts/pseudo'
import { countUnnamed, nameLines } from '../../core/story/reshape/name-lines'
import type { LinkedStory } from '../../core/story/linked'
import { languageSchema } from '../../core/story/schema'
import { newLineId } from '../../session/new-line'
import { Plain, Quiet } from '../../ui/buttons'
import { said } from '../shared/said'
import { useGoTo } from '../shared/session/use-go-to'
import { useAddressed } from '../shared/session/use-addressed'
import { EditPlain, EditQuiet } from '../shared/fields/edits'
import { useLinked, useMayWrite, useSession, useSessionState } from '../shared/session/use-session'
import { languageName } from '../shared/naming/language-name'
import { InAndOut } from './in-and-out'
import { Voices } from './voices'
import { Glossary } from './glossary'
import { Limit } from './limit'
import { TextTable } from './text-table'

const STATE_NAMES: Readonly<Record<TextState, string>> = {
  missing: 'missing',
  draft: 'draft',
  checked: 'checked',
  outdated: 'out of date',
}

/** The story's texts in its languages: how far each is, and the table in which one works at them. */
export function LanguagesView() {
  const story = useSessionState((state) => state.story)
  const linked = useLinked()
  const [added, setAdded] = useState<readonly string[]>([])
  const [asked, setAsked] = useAddressed('language')
  const [state, setState] = useState<TextState>()
  const languages = [...new Set([...Object.keys(story.languages ?? {}), ...added])].filter(
    (tag) => tag !== story.language,
  )
  const language =
    asked !== undefined && (asked === story.language || languages.includes(asked))
      ? asked
      : (languages[0] ?? story.language)
  const isOwn = language === story.language
  const rows = useRows(linked, language)
  const limit = story.textLimit
  const [onlyLong, setOnlyLong] = useState(false)
  const tooLong = useMemo(() => rows.filter((row) => isTooLong(row, row.text ?? '', limit)), [rows, limit])
  const [dialog, setDialog] = useState<'voices' | 'terms'>()
  const closeDialog = () => setDialog(undefined)
  const counts = countStates(rows)
  const glossary = useMemo(() => glossaryOf(rows), [rows])
  // what was just worked at stays to be seen until another state is chosen
  const shown = useShown(rows, state, language)
  return (
    <Box as="main" id="text" tabIndex={-1} h="100%" display="grid" gridTemplateRows="auto minmax(0, 1fr)" px="5" pt="4">
      <Box mb="3">
        <Flex gap="4" wrap="wrap" align="center" mb="2">
          <Text as="h2" fontFamily="story" fontSize="xl">
            Languages
          </Text>
          {
            <select
              className="field"
              aria-label="Language"
              value={language}
              onChange={(event) => setAsked(event.target.value)}
            >
              {languages.map((tag) => (
                <option key={tag} value={tag}>
                  {languageName(tag)}
                </option>
              ))}
              <option value={story.language}>{languageName(story.language)}: to proof-read</option>
            </select>
          }
          <Plain onClick={() => setDialog('voices')}>Voices …</Plain>
          <Plain onClick={() => setDialog('terms')}>Glossary …</Plain>
          <Limit />
          <Box flex="1" />
          <AddPseudo />
          <AddLanguage
            known={[story.language, ...languages]}
            onAdd={(tag) => {
              setAdded([...added, tag])
              setAsked(tag)
            }}
          />
        </Flex>
        <InAndOut language={language} rows={rows} />
        <Unnamed />
        {dialog === 'voices' && <Voices language={language} onClose={closeDialog} />}
        {dialog === 'terms' && <Glossary onClose={closeDialog} />}
        {isOwn && limit !== undefined && <TooLong rows={tooLong} limit={limit} />}
        {isOwn ? (
          <Text color="faded" maxW="44rem">
            {languages.length === 0 ? 'The story has only its own language. Add another one to translate it. ' : ''}
            {languageName(story.language)} is what the story is written in: its texts are edited on the Desk. Save them
            for somebody who proof-reads; what comes back is shown, text by text, before it goes into the manuscript.
          </Text>
        ) : (
          <Flex gap="2" wrap="wrap" role="group" aria-label="Which texts">
            <Quiet aria-pressed={state === undefined} onClick={() => setState(undefined)}>
              all {rows.length}
            </Quiet>
            {TEXT_STATES.map((one) => (
              <Quiet
                key={one}
                aria-pressed={state === one}
                color={state === one ? 'ink' : undefined}
                onClick={() => setState(one)}
              >
                {STATE_NAMES[one]} {counts[one]}
              </Quiet>
            ))}
            <Box flex="1" />
            {limit !== undefined && (
              <Quiet aria-pressed={onlyLong} onClick={() => setOnlyLong(!onlyLong)}>
                too long {tooLong.length}
              </Quiet>
            )}
            <TakeAway language={language} />
          </Flex>
        )}
      </Box>
      {!isOwn && (
        <TextTable
          key={`${language} ${state ?? ''}`}
          language={language}
          rows={onlyLong ? shown.filter((row) => tooLong.includes(row)) : shown}
          limit={limit}
          glossary={glossary}
        />
      )}
    </Box>
  )
}

const LISTED = 40

/** Texts of the story's own language that do not fit; each leads to where it is written. */
function TooLong({ rows, limit }: { rows: readonly TextRow[]; limit: number }) {
  const goTo = useGoTo()
  if (rows.length === 0) return null
  return (
    <Box mb="3">
      <Text>
        {said(rows.length, 'text')} {rows.length === 1 ? 'has' : 'have'} more than {limit} signs:
      </Text>
      <Box as="ul" aria-label="Too long" listStyleType="none" maxH="40vh" overflowY="auto">
        {rows.slice(0, LISTED).map(({ key, beat, source }) => (
          <li key={key}>
            <Quiet fontSize="sm" onClick={() => goTo(beat!)}>
              {signsOf(source)}: {source.slice(0, 90)}
              {source.length > 90 && ' …'}
            </Quiet>
          </li>
        ))}
      </Box>
      {rows.length > LISTED && <Text color="faded">and {rows.length - LISTED} more</Text>}
    </Box>
  )
}

/** A language that nobody speaks shows what will be cut off, and what nobody can translate. */
function AddPseudo() {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const linked = useLinked()
  const [, setAsked] = useAddressed('language')
  const tag = pseudoTag(story.language)
  const isThere = story.languages?.[tag] !== undefined
  const add = () => {
    const trouble = session.edit({ op: 'set-texts', language: tag, values: pseudoTexts(textRows(linked, tag)) })
    if (trouble !== undefined) session.tell(trouble)
    else setAsked(tag)
  }
  return (
    <EditQuiet title="Longer, with foreign letters between marks: play it and see what does not hold" onClick={add}>
      {isThere ? 'Make the pseudo-language anew' : 'Add a pseudo-language'}
    </EditQuiet>
  )
}

/** Takes a language out of the story, in one step that can be undone. */
function TakeAway({ language }: { language: string }) {
  const session = useSession()
  const texts = useSessionState((state) => state.story.languages?.[language]?.texts)
  const count = Object.keys(texts ?? {}).length
  if (count === 0) return null
  const take = () => {
    const values = Object.fromEntries(Object.keys(texts!).map((key) => [key, null]))
    const trouble = session.edit({ op: 'set-texts', language, values })
    session.tell(
      trouble ?? `${languageName(language)} was taken away with ${said(count, 'text')}. Undo brings it back.`,
    )
  }
  return <EditQuiet onClick={take}>Take {languageName(language)} away</EditQuiet>
}

function useRows(linked: LinkedStory, language: string) {
  return useMemo(() => rowsToWorkAt(linked, language), [linked, language])
}

/** The rows of a state, and those that were of it when it was chosen. */
function useShown(rows: ReturnType<typeof textRows>, state: TextState | undefined, language: string) {
  const [kept, setKept] = useState<{ name: string; keys: ReadonlySet<string> }>({ name: '', keys: new Set() })
  const name = `${language} ${state ?? ''}`
  if (kept.name !== name)
    setKept({ name, keys: new Set(rows.filter((row) => row.state === state).map(({ key }) => key)) })
  return useMemo(
    () => (state === undefined ? rows : rows.filter((row) => row.state === state || kept.keys.has(row.key))),
    [rows, state, kept],
  )
}

function AddLanguage({ known, onAdd }: { known: readonly string[]; onAdd: (tag: string) => void }) {
  const [tag, setTag] = useState('')
  const [trouble, setTrouble] = useState<string>()
  if (!useMayWrite()) return null
  return (
    <Flex
      as="form"
      gap="2"
      align="center"
      onSubmit={(event) => {
        event.preventDefault()
        const typed = tag.trim()
        if (!languageSchema.safeParse(typed).success) return setTrouble('A language tag is meant, such as de or pt-BR.')
        const [canonical] = Intl.getCanonicalLocales(typed)
        if (known.includes(canonical!)) return setTrouble(`${languageName(canonical!)} is there already.`)
        setTrouble(undefined)
        setTag('')
        onAdd(canonical!)
      }}
    >
      <input
        className="field"
        aria-label="Tag of a new language"
        placeholder="de, pt-BR …"
        value={tag}
        onChange={(event) => setTag(event.target.value)}
        style={{ width: '8rem' }}
      />
      <Plain type="submit">Add a language</Plain>
      {trouble !== undefined && (
        <Text role="alert" color="needle" fontSize="sm">
          {trouble}
        </Text>
      )}
    </Flex>
  )
}

/** A text is known by its name; what has none can't be translated. */
function Unnamed() {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const count = countUnnamed(story)
  if (count === 0) return null
  const name = () => {
    const change = nameLines(story, newLineId)
    const trouble = change && session.edit(change)
    if (trouble !== undefined) session.tell(trouble)
  }
  return (
    <Flex gap="3" align="center" mb="2" wrap="wrap" bg="ochre.wash" px="3" py="1">
      <Text>
        {said(count, 'line')} {count === 1 ? 'has' : 'have'} no short name yet and can not be translated.
      </Text>
      <EditPlain onClick={name}>Give them names</EditPlain>
    </Flex>
  )
}
