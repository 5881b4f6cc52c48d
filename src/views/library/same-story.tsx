'use client'

import { Flex, Text } from '@chakra-ui/react'
import type { Card } from '../../core/contract/answers'
import { fail, ok, type Result } from '../../core/base/result'
import { differenceOf } from '../../core/story/changes/difference'
import { readStory } from '../../core/story/read'
import type { Story } from '../../core/story/types'
import { api, type ApiError } from '../../session/api'
import { Main, Plain, Quiet } from '../../ui/buttons'

/** A file that holds a story of which there is one with the same title. */
export interface Same {
  readonly file: File
  readonly story: Story
  readonly card: Card
}

/** Larger files are not looked into here: what is in them is a story of its own. */
const LOOKED_INTO_BYTES = 8 * 1024 * 1024

/** The story of the library that a file is another version of, by its title; undefined where there is none. */
export async function sameStory(file: File): Promise<Same | undefined> {
  if (file.size > LOOKED_INTO_BYTES) return undefined
  const read = readStory(await file.text())
  if (!read.ok) return undefined
  const story = read.value
  const found = await api.list(story.title)
  const card = found.ok ? found.value.cards.find(({ title, sample }) => title === story.title && !sample) : undefined
  return card && { file, story, card }
}

/** Makes the story what the file holds, as one change; the version before gets a name. Gives the story. */
export async function replaceBy({ file, story, card }: Same): Promise<Result<{ readonly id: string }, ApiError>> {
  const opened = await api.open(card.id)
  if (!opened.ok) return opened
  const change = differenceOf(opened.value.story, story)
  if (change.op === 'batch' && change.changes.length === 0) return ok({ id: card.id })
  const named = await api.nameVersion(card.id, `Before “${file.name}”`)
  if (!named.ok) return fail(named.error)
  const saved = await api.change(card.id, change, crypto.randomUUID())
  return saved.ok ? ok({ id: card.id }) : saved
}

/** Asks what shall become of it. */
export function SameQuestion({
  same: { card },
  busy,
  onReplace,
  onBeside,
  onLeave,
}: {
  same: Same
  busy: boolean
  onReplace: () => void
  onBeside: () => void
  onLeave: () => void
}) {
  return (
    <Flex
      role="alertdialog"
      aria-label="The story exists"
      gap="3"
      mt="3"
      align="center"
      wrap="wrap"
      data-same={card.id}
    >
      <Text>
        There is a story “{card.title}” already. It can become what the file holds, as a new version: what it is now
        stays in its history.
      </Text>
      <Main type="button" disabled={busy} onClick={onReplace}>
        Replace it as a new version
      </Main>
      <Plain type="button" disabled={busy} onClick={onBeside}>
        Keep both
      </Plain>
      <Quiet onClick={onLeave}>Leave it</Quiet>
    </Flex>
  )
}
