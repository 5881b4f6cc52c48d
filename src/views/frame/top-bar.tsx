'use client'

import { Box, Flex, Text, VisuallyHidden } from '@chakra-ui/react'
import Link from 'next/link'
import { usePathname } from 'next/navigation'
import { may } from '../../core/contract/access'
import { Quiet } from '../../ui/buttons'
import { Needle } from '../../ui/marks'
import { ThemeSwitch } from '../../ui/theme-switch'
import { VIEWS } from './views'
import { DraftText } from '../shared/fields/draft-text'
import { useTravel } from '../shared/session/use-travel'
import { useSelf } from '../members/self'
import { useMayWrite, useSession, useSessionState } from '../shared/session/use-session'

/** The story's title, the views, what is saved, undo and redo. */
export function TopBar({ id, onFind, onHelp }: { id: string; onFind: () => void; onHelp: () => void }) {
  const session = useSession()
  const title = useSessionState((state) => state.story.title)
  const canUndo = useSessionState((state) => state.canUndo)
  const canRedo = useSessionState((state) => state.canRedo)
  const here = usePathname()
  const travel = useTravel()
  const mayWrite = useMayWrite()
  const mayComment = useSessionState(({ role }) => may(role, 'comment'))
  const self = useSelf()
  return (
    <Flex
      as="header"
      align="center"
      columnGap="3"
      wrap="wrap"
      px="4"
      minH="11"
      borderBottom="1px solid"
      borderColor="hairline"
    >
      <Link href="/" aria-label="To the library" title="To the library">
        <Needle />
      </Link>
      <VisuallyHidden as="h1">{title}</VisuallyHidden>
      <Box maxW="24rem" minW="0" fontFamily="story" fontSize="md">
        <DraftText
          label="Title of the story"
          value={title}
          single
          onCommit={(text) => text.trim() !== '' && session.edit({ op: 'set-story', values: { title: text.trim() } })}
        />
      </Box>
      <Flex as="nav" aria-label="Views" gap="1" ml={{ base: '0', lg: '2' }} wrap="wrap">
        {VIEWS.map(({ path, name, key }) => {
          const current = here.endsWith(`/${path}`)
          return (
            <Box
              key={path}
              asChild
              px="2.5"
              py="1"
              borderBottom="2px solid"
              borderColor={current ? 'needle' : 'transparent'}
              color={current ? 'ink' : 'faded'}
              fontWeight={current ? 600 : 400}
              _hover={{ color: 'ink' }}
            >
              <Link
                href={`/story/${id}/${path}`}
                aria-current={current ? 'page' : undefined}
                title={`${name} (${key})`}
              >
                {name}
              </Link>
            </Box>
          )
        })}
      </Flex>
      <Box flex="1" />
      {!mayWrite && (
        <Text color="faded" fontSize="sm" title="One of the story's owners can give you more; see Share">
          {mayComment ? 'you read and comment' : 'you read only'}
        </Text>
      )}
      <Quiet onClick={onFind} title="Do or go to anything (Ctrl+K)">
        Find …
      </Quiet>
      {mayWrite && <SavingState />}
      <Quiet disabled={!canUndo || !mayWrite} onClick={() => travel('undo')} title="Undo (Ctrl+Z)">
        Undo
      </Quiet>
      <Quiet disabled={!canRedo || !mayWrite} onClick={() => travel('redo')} title="Redo (Ctrl+Shift+Z or Ctrl+Y)">
        Redo
      </Quiet>
      <Quiet asChild color={here.endsWith('/history') ? 'ink' : undefined}>
        <Link href={`/story/${id}/history`} title="Every step, named versions, and what is different between them">
          History
        </Link>
      </Quiet>
      <Quiet asChild color={here.endsWith('/export') ? 'ink' : undefined}>
        <Link href={`/story/${id}/export`} title="A page to play, a bundle for a game, the story file">
          Export
        </Link>
      </Quiet>
      {self !== undefined && (
        <Quiet asChild color={here.endsWith('/share') ? 'ink' : undefined}>
          <Link href={`/story/${id}/share`} title={`Who may do what with this story; you are ${self.name}`}>
            Share
          </Link>
        </Quiet>
      )}
      <ThemeSwitch />
      <Quiet onClick={onHelp} aria-label="Keys" title="All keys (?)">
        ?
      </Quiet>
    </Flex>
  )
}

function SavingState() {
  const saving = useSessionState((state) => state.saving)
  const drafts = useSessionState((state) => state.drafts)
  const kind = saving.kind === 'saved' && drafts > 0 ? 'saving' : saving.kind
  return (
    <Text
      role="status"
      data-saving={kind}
      color={kind === 'failed' ? 'needle' : 'faded'}
      fontSize="sm"
      title={saving.kind === 'failed' ? saving.message : undefined}
      maxW="22rem"
      truncate
    >
      {kind === 'saved' ? 'Saved' : kind === 'saving' ? 'Saving …' : saving.kind === 'failed' && saving.message}
    </Text>
  )
}
