'use client'

import { Flex, Text, Textarea } from '@chakra-ui/react'
import { useMemo, useState, type ClipboardEvent } from 'react'
import { applyChange } from '../../core/story/changes/apply'
import { newStory } from '../../core/story/new-story'
import { pasteScript, readScript, type ScriptPart } from '../../core/story/reshape/script-paste'
import type { Story } from '../../core/story/types'
import { writeStory } from '../../core/story/write'
import { newLine } from '../../session/new-line'
import { Main, Quiet } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { PickFile } from '../../ui/pick-file'
import { ScriptPreview } from '../shared/take-in/script-preview'
import { MANUSCRIPT_FILES, useManuscript } from '../shared/take-in/use-manuscript'

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
  const { incoming, read, drop } = useManuscript()
  const typed = useMemo(() => readScript(text), [text])
  const file = incoming?.kind === 'read' ? incoming.read : undefined
  const parts = file?.parts ?? typed
  const { story: begun, rest } = begunWith(title === '' ? file?.title : title, parts)
  const begin = () => {
    const pasted = pasteScript(begun, { scene: 'opening', beat: 'first', at: 0 }, rest, newLine)
    const made = pasted && applyChange(begun, pasted.change)
    if (made?.ok) onBegin(fileOf(made.value.story))
  }
  /** What a word processor or a browser copied keeps its headings and lists. */
  const paste = (event: ClipboardEvent) => {
    const html = event.clipboardData.getData('text/html')
    if (!/<(h[1-6]|li)\b/i.test(html)) return
    event.preventDefault()
    read(new File([html], 'what was pasted'), 'html')
  }
  return (
    <Dialog title="Begin with a script" onClose={onClose} wide>
      <Text color="faded">
        “Name: line” or a name in capitals over what is said; lines in brackets are actions, list items are choices, a
        heading begins a beat. Or a file of a word processor, a spreadsheet, a screenplay, Markdown.
      </Text>
      {incoming === undefined || incoming.kind === 'trouble' ? (
        <Textarea
          aria-label="The script"
          placeholder={EXAMPLE}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onPaste={paste}
          rows={9}
          flexShrink={0}
          bg="sheet"
          borderColor="edge"
          borderRadius="sheet"
          fontFamily="story"
          _placeholder={{ color: 'faded' }}
          data-first=""
        />
      ) : (
        <Flex gap="3" align="center">
          <Text role="status">
            {incoming.kind === 'reading' ? `Reading “${incoming.name}” …` : `“${incoming.name}” is understood so:`}
          </Text>
          <Quiet onClick={drop}>Another</Quiet>
        </Flex>
      )}
      {incoming?.kind === 'trouble' && (
        <Text role="alert" color="needle">
          “{incoming.name}” could not be read: {incoming.why}.
        </Text>
      )}
      {parts.length > 0 && <ScriptPreview story={begun} parts={parts} />}
      <Flex gap="3" align="center">
        <Main disabled={parts.length === 0} onClick={begin}>
          Begin “{begun.title}”
        </Main>
        <PickFile label="A file to begin with" accept={MANUSCRIPT_FILES} onPick={([one]) => read(one!)}>
          Open a file …
        </PickFile>
        <Quiet onClick={onClose}>Leave it</Quiet>
      </Flex>
    </Dialog>
  )
}

/** The story that a script is put into: a scene and a heading at its very beginning are those that every story has. */
function begunWith(
  title: string | undefined,
  parts: readonly ScriptPart[],
): { readonly story: Story; readonly rest: readonly ScriptPart[] } {
  const rest = [...parts]
  const scene = rest[0]?.of === 'scene' ? (rest.shift() as ScriptPart & { of: 'scene' }).title : undefined
  const heading = rest[0]?.of === 'beat' ? (rest.shift() as ScriptPart & { of: 'beat' }).title : undefined
  const story = newStory(title ?? scene ?? heading ?? 'Untitled')
  const [opening] = story.scenes
  const beats = heading === undefined ? opening!.beats : opening!.beats.map((beat) => ({ ...beat, title: heading }))
  return {
    story: { ...story, scenes: [{ ...opening!, ...(scene === undefined ? {} : { title: scene }), beats }] },
    rest,
  }
}

function fileOf(story: Story): File {
  return new File([writeStory(story)], `${story.title}.story.json`, { type: 'application/json' })
}
