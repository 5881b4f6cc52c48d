'use client'

import { Flex, Text } from '@chakra-ui/react'
import { useEffect, useRef, useState } from 'react'
import type { StoryMembers } from '../../../core/contract/access'
import { membersApi } from '../../../session/members-api'
import { Quiet } from '../../../ui/buttons'
import { useSession } from '../session/use-session'

/** Read once a page: who works on the story changes seldom. */
const read = new Map<string, Promise<StoryMembers['members']>>()

/** Who has a role in the story. */
function useColleagues(): StoryMembers['members'] {
  const session = useSession()
  const [found, setFound] = useState<StoryMembers['members']>([])
  useEffect(() => {
    let known = read.get(session.id)
    if (known === undefined) {
      known = membersApi.storyMembers(session.id).then((answer) => (answer.ok ? answer.value.members : []))
      read.set(session.id, known)
      // asked again when one comes here again
      setTimeout(() => read.delete(session.id), 30_000)
    }
    let left = false
    void known.then((members) => !left && setFound(members))
    return () => {
      left = true
    }
  }, [session])
  return found
}

/** Where a comment is written; Ctrl+Enter sends it, and a name behind an @ calls somebody. */
export function CommentField({
  label,
  text,
  onText,
  onSend,
  autoFocus,
}: {
  label: string
  text: string
  onText: (text: string) => void
  onSend: () => void
  autoFocus?: boolean
}) {
  const session = useSession()
  const box = useRef<HTMLTextAreaElement>(null)
  const colleagues = useColleagues().filter(({ id }) => id !== session.self)
  const call = (name: string) => {
    onText(`${text}${text === '' || text.endsWith(' ') ? '' : ' '}@${name} `)
    box.current?.focus()
  }
  return (
    <>
      <textarea
        ref={box}
        className="field comment-field"
        aria-label={label}
        placeholder={label}
        rows={2}
        value={text}
        maxLength={5000}
        data-first={autoFocus ? '' : undefined}
        onChange={(event) => onText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return
          event.preventDefault()
          onSend()
        }}
      />
      {colleagues.length > 0 && (
        <Flex gap="1" wrap="wrap" fontSize="sm" align="baseline">
          <Text color="faded">for</Text>
          {colleagues.map(({ id, name }) => (
            <Quiet key={id} onClick={() => call(name)} title={`${name} is told that this is for them`}>
              @{name}
            </Quiet>
          ))}
        </Flex>
      )}
    </>
  )
}

/** To whom something is given. */
export function GiveField({
  label,
  value,
  onChange,
}: {
  label: string
  value: { readonly id: string; readonly name: string } | null
  onChange: (member: string | null) => void
}) {
  const colleagues = useColleagues()
  const options = value === null || colleagues.some(({ id }) => id === value.id) ? colleagues : [...colleagues, value]
  return (
    <select
      className="field"
      aria-label={label}
      value={value?.id ?? ''}
      onChange={(event) => onChange(event.target.value === '' ? null : event.target.value)}
    >
      <option value="">nobody’s to-do</option>
      {options.map(({ id, name }) => (
        <option key={id} value={id}>
          {name} sees to it
        </option>
      ))}
    </select>
  )
}
