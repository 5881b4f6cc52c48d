'use client'

import { Flex, Text } from '@chakra-ui/react'
import { useParams } from 'next/navigation'
import { useState } from 'react'
import { formsFor } from '../../core/formats/forms'
import { api } from '../../session/api'
import { Plain } from '../../ui/buttons'
import { WithComments } from '../shared/comments/with-comments'
import { SaveLink } from '../shared/save-link'
import { useSessionState } from '../shared/session/use-session'

const FORMS = formsFor('copy')

/** Copies for people who read on paper: what of the story, and in which form. */
export function ReadingCopies() {
  const { id } = useParams<{ id: string }>()
  const story = useSessionState((state) => state.story)
  const reached = useSessionState((state) => state.survey.report?.reached.endings)
  const [of, setOf] = useState('')
  const [form, setForm] = useState<string>(FORMS[0]!.id)
  const [withComments, setWithComments] = useState(false)
  const wanted = `${of}${withComments ? `${of === '' ? '' : '&'}comments=open` : ''}`
  const chosen = FORMS.find((one) => one.id === form)!
  const asked = (kind: string, name: string) => `${kind}=${encodeURIComponent(name)}`
  return (
    <>
      <Flex gap="3" wrap="wrap" align="center">
        <select className="field" aria-label="What is read" value={of} onChange={({ target }) => setOf(target.value)}>
          <option value="">the whole story</option>
          <optgroup label="One scene">
            {story.scenes.map((scene) => (
              <option key={scene.id} value={asked('scene', scene.id)}>
                {scene.title}
              </option>
            ))}
          </optgroup>
          {(story.routes ?? []).length > 0 && (
            <optgroup label="A kept route, played">
              {story.routes!.map((route) => (
                <option key={route.id} value={asked('route', route.id)}>
                  {route.name}
                </option>
              ))}
            </optgroup>
          )}
          <optgroup label="The shortest way, played, to">
            {(story.endings ?? [])
              .filter((ending) => reached?.[ending.id] !== undefined)
              .map((ending) => (
                <option key={ending.id} value={asked('ending', ending.id)}>
                  {ending.name}
                </option>
              ))}
          </optgroup>
        </select>
        <select
          className="field"
          aria-label="Form of the copy"
          value={form}
          onChange={({ target }) => setForm(target.value)}
        >
          {FORMS.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
        <WithComments isWanted={withComments} onChange={setWithComments} />
        <SaveLink href={api.copyPath(id, form, wanted)}>Save the copy</SaveLink>
        <Plain asChild>
          <a href={api.copyPath(id, 'html', wanted, true)} target="_blank" rel="noopener">
            Open it to print
          </a>
        </Plain>
      </Flex>
      <Text color="faded" fontSize="sm" mt="2">
        {chosen.name}: {chosen.copy.says}.
      </Text>
    </>
  )
}
