'use client'

import { Flex, Text, Textarea } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { applyChange } from '../../core/story/changes/apply'
import { newStory } from '../../core/story/new-story'
import { pasteScript, readScript, type ScriptPart } from '../../core/story/reshape/script-paste'
import type { Story } from '../../core/story/types'
import { writeStory } from '../../core/story/write'
import { newLine } from '../../session/new-line'
import { Main, Quiet } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { ScriptPreview } from '../shared/script-preview'

const EXAMPLE = `# At the gate
ODILE
Who goes there, and with what?
(She lifts the lamp.)
- Four cases of seed
- Say nothing`

/** Begins a story with what was written elsewhere. */
export function FromScript({
  title,
  onBegin,
  onClose,
}: {
  title: string
  onBegin: (file: File) => void
  onClose: () => void
}) {
  const [text, setText] = useState('')
  const parts = useMemo(() => readScript(text), [text])
  const begun = begunWith(title, parts[0])
  const begin = () => {
    // a heading at the very beginning is the first beat's own
    const rest = parts[0]?.of === 'beat' ? parts.slice(1) : parts
    const pasted = pasteScript(begun, { scene: 'opening', beat: 'first', at: 0 }, rest, newLine)
    const made = pasted && applyChange(begun, pasted.change)
    if (made?.ok) onBegin(fileOf(made.value.story))
  }
  return (
    <Dialog title="Begin with a script" onClose={onClose} wide>
      <Text color="faded">
        “Name: line” or a name in capitals over what is said; lines in brackets are actions, list items are choices, a
        heading begins a beat.
      </Text>
      <Textarea
        aria-label="The script"
        placeholder={EXAMPLE}
        value={text}
        onChange={(event) => setText(event.target.value)}
        rows={9}
        flexShrink={0}
        bg="sheet"
        borderColor="edge"
        borderRadius="sheet"
        fontFamily="story"
        _placeholder={{ color: 'faded' }}
        data-first=""
      />
      {parts.length > 0 && <ScriptPreview story={begun} parts={parts} />}
      <Flex gap="3" align="center">
        <Main disabled={parts.length === 0} onClick={begin}>
          Begin “{begun.title}”
        </Main>
        <Quiet onClick={onClose}>Leave it</Quiet>
      </Flex>
    </Dialog>
  )
}

function begunWith(title: string, first: ScriptPart | undefined): Story {
  const heading = first?.of === 'beat' ? first.title : undefined
  const story = newStory(title === '' ? (heading ?? 'Untitled') : title)
  if (heading === undefined) return story
  const [scene] = story.scenes
  return { ...story, scenes: [{ ...scene!, beats: scene!.beats.map((beat) => ({ ...beat, title: heading })) }] }
}

function fileOf(story: Story): File {
  return new File([writeStory(story)], `${story.title}.story.json`, { type: 'application/json' })
}
