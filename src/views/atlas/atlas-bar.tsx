'use client'

import { Box, chakra, Flex } from '@chakra-ui/react'
import { useRef, useState } from 'react'
import type { Story } from '../../core/story/types'
import { entryName } from '../../session/names'
import { Plain, Quiet } from '../../ui/buttons'
import { MoreMenu } from '../../ui/more-menu'
import { said } from '../shared/said'
import { useSessionState } from '../shared/session/use-session'
import { keepLooks, keptLooks, type KeptLook } from './kept-look'
import { OVERLAYS, type OverlayId } from './overlays'
import { SAVES, type SaveAs } from './save-as'

interface Props {
  readonly id: string
  readonly overlay: OverlayId
  readonly of: string | undefined
  readonly onOverlay: (overlay: OverlayId, of: string | undefined) => void
  readonly search: string
  /** How many beats the search found; undefined: nothing is searched for. */
  readonly found: number | undefined
  readonly onSearch: (text: string) => void
  readonly onNextFound: (step: 1 | -1) => void
  readonly isTree: boolean
  readonly onTree: (isTree: boolean) => void
  readonly onWhole: () => void
  readonly onAll: (open: boolean) => void
  readonly onSave: (as: SaveAs) => void
  readonly addressOf: () => string
  readonly onKept: (address: string) => void
}

/** What is shown on the chart, what is searched for, and what can be done with all of it. */
export function AtlasBar(props: Props) {
  const { overlay, of, onOverlay, search, found, onSearch, onNextFound, isTree, onTree } = props
  const story = useSessionState((state) => state.story)
  const choices = subjectsOf(story, overlay)
  return (
    <Flex
      gap="2"
      columnGap="3"
      align="center"
      wrap="wrap"
      px="3"
      py="1.5"
      borderBottom="1px solid"
      borderColor="hairline"
      fontSize="sm"
      role="toolbar"
      aria-label="The chart"
    >
      <chakra.label>
        Show{' '}
        <select
          className="field"
          aria-label="Show"
          value={overlay}
          onChange={(event) => {
            const next = event.target.value as OverlayId
            onOverlay(next, subjectsOf(story, next)?.[0]?.id)
          }}
        >
          {OVERLAYS.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </chakra.label>
      {choices !== undefined && (
        <select
          className="field"
          aria-label="Of what"
          style={{ maxWidth: '14rem' }}
          value={of ?? ''}
          onChange={(event) => onOverlay(overlay, event.target.value)}
        >
          {choices.length === 0 && <option value="">there is none yet</option>}
          {choices.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      )}
      <Box asChild className="field" w="11rem">
        <input
          type="search"
          aria-label="Search on the chart"
          placeholder="Light up what has …"
          value={search}
          onChange={(event) => onSearch(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Enter') return
            event.preventDefault()
            onNextFound(event.shiftKey ? -1 : 1)
          }}
        />
      </Box>
      {found !== undefined && (
        <Box as="span" color="faded" role="status">
          {said(found, 'beat')}; Enter goes on
        </Box>
      )}
      <Box flex="1" />
      {!isTree && (
        <>
          <Quiet onClick={props.onWhole} title="The whole story (0)">
            Whole story
          </Quiet>
          <Quiet onClick={() => props.onAll(true)}>Open all</Quiet>
          <Quiet onClick={() => props.onAll(false)}>Close all</Quiet>
          <KeptLooks {...props} />
        </>
      )}
      <Quiet aria-pressed={isTree} onClick={() => onTree(!isTree)}>
        {isTree ? 'As a chart' : 'As a list'}
      </Quiet>
      <MoreMenu
        label="Take the chart along"
        text="Save as …"
        items={() => SAVES.map(({ id, name, hint }) => ({ id, text: name, hint, onPick: () => props.onSave(id) }))}
      />
    </Flex>
  )
}

/** What an overlay can be about; undefined: it is about nothing in particular. */
function subjectsOf(story: Story, overlay: OverlayId): { readonly id: string; readonly name: string }[] | undefined {
  switch (overlay) {
    case 'entry':
      return [
        ...[...(story.ledger ?? []), ...story.scenes.flatMap(({ ledger }) => ledger ?? [])].map(({ id }) => ({
          id,
          name: entryName(story, id),
        })),
        ...(story.quests ?? []).map(({ id, name }) => ({ id: `quest.${id}`, name: `quest: ${name}` })),
      ]
    case 'ending':
      return (story.endings ?? []).map(({ id, name }) => ({ id, name }))
    case 'person':
      return (story.cast ?? []).map(({ id, name }) => ({ id, name }))
    case 'language':
      return Object.keys(story.languages ?? {}).map((id) => ({ id, name: id }))
    case 'route':
      return (story.routes ?? []).map(({ id, name }) => ({ id, name }))
    case 'none':
    case 'no-return':
    case 'players':
    case 'playtests':
    case 'rehearsal':
    case 'findings':
    case 'todos':
    case 'words':
      return undefined
  }
}

/** Ways of looking that were kept by name. */
function KeptLooks({ id, addressOf, onKept }: Props) {
  const [looks, setLooks] = useState<readonly KeptLook[]>(() => keptLooks(id))
  const [isNaming, setNaming] = useState(false)
  const name = useRef<HTMLInputElement>(null)
  const set = (next: readonly KeptLook[]) => {
    setLooks(next)
    keepLooks(id, next)
  }
  if (isNaming)
    return (
      <form
        style={{ display: 'flex', gap: '0.25rem' }}
        onSubmit={(event) => {
          event.preventDefault()
          const called = name.current?.value.trim() ?? ''
          if (called !== '')
            set([...looks.filter((look) => look.name !== called), { name: called, address: addressOf() }])
          setNaming(false)
        }}
        onKeyDown={(event) => event.key === 'Escape' && setNaming(false)}
      >
        <input
          ref={name}
          className="field"
          autoFocus
          aria-label="Name of this view"
          placeholder="name of this view"
          size={14}
        />
        <Plain type="submit">Keep it</Plain>
      </form>
    )
  return (
    <MoreMenu
      label="Views of the chart that were kept"
      text="Views …"
      items={() => [
        { id: 'keep', text: 'Keep this view …', onPick: () => setNaming(true) },
        ...looks.map((look) => ({ id: `to ${look.name}`, text: look.name, onPick: () => onKept(look.address) })),
        ...looks.map((look) => ({
          id: `forget ${look.name}`,
          text: `Forget “${look.name}”`,
          onPick: () => set(looks.filter((one) => one !== look)),
        })),
      ]}
    />
  )
}
