'use client'

import { plainId } from '../../../core/base/ids'
import { Box, Flex } from '@chakra-ui/react'
import { useId, useState, type ComponentProps, type KeyboardEvent } from 'react'
import type { TextArgument } from '../../../core/story/text'
import { insertForms, insertValue, textParts, type Insertion, type TextPart } from '../../../core/story/text-forms'
import type { Story } from '../../../core/story/types'
import { storyNames } from '../../../session/names'
import { Offers, tieToOffers } from '../../../ui/offers'
import { DraftText, type Caret } from '../../shared/fields/draft-text'
import { useNaming } from '../../shared/session/use-session'
import { entriesIn } from '../../expression/completions'

type Props = ComponentProps<typeof DraftText> & { readonly scene: string }

interface Offer {
  readonly name: string
  readonly hint: string
  readonly insertion: Insertion
}

const OFFERED = 7

/**
 * A text that the player reads. What is put into it shows as a chip with its name; while it is
 * written, { offers what can be put in, and forms are written in fields of their own below it.
 */
export function StoryText({ scene, ...props }: Props) {
  const { story } = useNaming()
  const [caret, setCaret] = useState<Caret>()
  const [at, setAt] = useState(0)
  const [closed, setClosed] = useState(false)
  const listId = useId()
  const parts = textParts(caret?.text ?? props.value)
  const begun = caret === undefined || closed ? undefined : /\{([\p{L}\p{N}_ ]*)$/u.exec(caret.text.slice(0, caret.at))
  const offers = begun === null || begun === undefined ? [] : offersIn(story, scene, begun[1]!)
  const chosenAt = Math.min(at, offers.length - 1)
  const chosen = offers[chosenAt]
  const put = ({ insertion }: Offer) => {
    const start = caret!.at - begun![0].length
    const rest = caret!.text.slice(caret!.at).replace(/^\}/, '')
    caret!.replace(
      caret!.text.slice(0, start) + insertion.source + rest,
      start + insertion.select[0],
      start + insertion.select[1],
    )
    setAt(0)
  }
  const press = (event: KeyboardEvent<HTMLTextAreaElement>): boolean => {
    if (offers.length === 0) return false
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp')
      setAt((Math.min(at, offers.length - 1) + (event.key === 'ArrowDown' ? 1 : offers.length - 1)) % offers.length)
    else if (event.key === 'Enter' || event.key === 'Tab') put(chosen!)
    else if (event.key === 'Escape') setClosed(true)
    else return false
    return true
  }
  return (
    <Box
      position="relative"
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) setCaret(undefined)
      }}
      className={caret === undefined && parts !== undefined ? 'chipped' : undefined}
    >
      {caret === undefined && parts !== undefined && (
        <div className="chips" aria-hidden="true">
          <Parts story={story} parts={parts} />
        </div>
      )}
      <DraftText
        {...props}
        onCaret={(next) => {
          setCaret(next)
          if (next === undefined || next.text !== caret?.text) setClosed(false)
        }}
        takeKey={press}
        tie={offers.length > 0 ? tieToOffers(listId, offers.length, chosenAt) : undefined}
      />
      {offers.length > 0 && (
        <Offers
          id={listId}
          label="What can be put in"
          offers={offers}
          chosen={chosenAt}
          keyOf={({ name, hint }) => `${name} ${hint}`}
          onTake={put}
          position="absolute"
          zIndex="dropdown"
          top="100%"
          left="0"
          minW="18rem"
          bg="sheet"
          border="1px solid"
          borderColor="edge"
          boxShadow="sm"
          fontFamily="body"
          fontSize="sm"
          fontStyle="normal"
        >
          {({ name, hint }) => (
            <>
              <span>{name}</span>
              <Box as="span" color="faded">
                {hint}
              </Box>
            </>
          )}
        </Offers>
      )}
      {caret !== undefined && offers.length === 0 && parts?.some(({ kind }) => kind === 'forms') && (
        <FormFields story={story} parts={parts} caret={caret} />
      )}
    </Box>
  )
}

function argumentName(story: Story, { of, id }: TextArgument): string {
  if (of === 'person') return story.cast?.find((person) => person.id === id)?.name ?? plainId(id)
  const names = storyNames(story)
  return of === 'quest' ? names.quest(id) : names.entry(id)
}

/** What a form is for: "if yes", "if one", the name of a stage, "otherwise". */
function formName(story: Story, argument: TextArgument, plural: boolean, key: string): string {
  if (key === 'other') return plural ? 'several' : 'otherwise'
  if (plural) return key.startsWith('=') ? key.slice(1) : key
  if (key === 'true') return 'if yes'
  if (key === 'false') return 'if no'
  const stage =
    argument.of === 'quest'
      ? story.quests?.find(({ id }) => id === argument.id)?.stages.find(({ id }) => id === key)?.name
      : undefined
  return `if ${stage ?? plainId(key)}`
}

function Parts({ story, parts }: { story: Story; parts: readonly TextPart[] }) {
  return parts.map((part, at) => {
    switch (part.kind) {
      case 'words':
        return <span key={at}>{part.text}</span>
      case 'count':
        return (
          <span key={at} className="chip">
            number
          </span>
        )
      case 'value':
        return (
          <span key={at} className="chip">
            {argumentName(story, part.argument)}
          </span>
        )
      case 'forms':
        return (
          <span key={at} className="forms">
            {part.forms.map((form) => (
              <span key={form.key} className="form">
                <span className="chip">
                  {argumentName(story, part.argument)} {formName(story, part.argument, part.plural, form.key)}
                </span>{' '}
                {form.parts.length === 0 ? <i>nothing</i> : <Parts story={story} parts={form.parts} />}{' '}
              </span>
            ))}
          </span>
        )
    }
  })
}

/** Each form in a field of its own; what is written there stands in the text at once. */
function FormFields({ story, parts, caret }: { story: Story; parts: readonly TextPart[]; caret: Caret }) {
  return (
    <Box fontFamily="body" fontSize="sm" fontStyle="normal" bg="wash" px="2" py="1" borderRadius="sheet" data-forms="">
      {parts.map((part, at) =>
        part.kind !== 'forms' ? null : (
          <Box key={at}>
            {part.forms.map((form) => (
              <Flex key={form.key} as="label" gap="2" align="baseline">
                <Box as="span" color="faded" w="9rem" flexShrink={0} truncate>
                  {argumentName(story, part.argument)} {formName(story, part.argument, part.plural, form.key)}
                </Box>
                <Box asChild flex="1" className="field" py="0">
                  <input
                    value={caret.text.slice(form.start, form.end)}
                    data-keep-draft=""
                    onChange={(event) => {
                      const next = caret.text.slice(0, form.start) + event.target.value + caret.text.slice(form.end)
                      // what would tear the forms apart is not taken
                      if (textParts(next) !== undefined) caret.replace(next, undefined, undefined)
                    }}
                  />
                </Box>
              </Flex>
            ))}
          </Box>
        ),
      )}
    </Box>
  )
}

function offersIn(story: Story, scene: string, typed: string): Offer[] {
  const wanted = typed.trim().toLowerCase()
  const offers: Offer[] = []
  for (const entry of entriesIn(story, scene)) {
    const name = entry.name ?? plainId(entry.id)
    if (!name.toLowerCase().includes(wanted) && !entry.id.includes(wanted)) continue
    if (entry.kind === 'flag')
      offers.push({ name, hint: 'words if yes, words otherwise', insertion: insertForms(entry.id, ['true', 'other']) })
    else if (entry.kind === 'switch')
      offers.push({
        name,
        hint: 'words for each position',
        insertion: insertForms(entry.id, [
          ...entry.positions.filter((position) => /^[^\s{}'#|]+$/.test(position)),
          'other',
        ]),
      })
    else {
      offers.push({ name, hint: entry.kind === 'text' ? 'the word' : 'the number', insertion: insertValue(entry.id) })
      if (entry.kind !== 'text')
        offers.push({
          name,
          hint: 'words for one, words for several',
          insertion: insertForms(entry.id, ['one', 'other']),
        })
    }
  }
  for (const quest of story.quests ?? []) {
    if (!quest.name.toLowerCase().includes(wanted) && !`quest_${quest.id}`.includes(wanted)) continue
    offers.push({
      name: quest.name,
      hint: 'words for each stage',
      insertion: insertForms(`quest_${quest.id}`, [...quest.stages.map(({ id }) => id), 'other']),
    })
  }
  return offers.slice(0, OFFERED)
}
