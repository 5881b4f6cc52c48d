'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useParams } from 'next/navigation'
import { useState } from 'react'
import { formCalled, formsFor } from '../../core/formats/forms'
import { INCOMING_BYTES } from '../../core/formats/payload'
import type { Fate, Judged } from '../../core/texts/incoming'
import { changeOfTexts, judgeTexts } from '../../core/texts/proofs'
import type { TextRow } from '../../core/texts/rows'
import { api } from '../../session/api'
import { Main, Plain } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { EditFile } from '../shared/fields/edits'
import { WithComments } from '../shared/comments/with-comments'
import { said } from '../shared/said'
import { SaveLink } from '../shared/save-link'
import { useLinked, useSession, useSessionState } from '../shared/session/use-session'
import { languageName } from '../shared/naming/language-name'

interface Props {
  readonly language: string
  readonly rows: readonly TextRow[]
}

interface Came {
  readonly file: string
  readonly language: string | undefined
  readonly judged: readonly Judged[]
}

const FORMS = formsFor('texts')
/** Of what was proof-read, copies too. */
const acceptedIn = (isOwn: boolean) =>
  [...FORMS, ...(isOwn ? formsFor('proofs') : [])].flatMap(({ endings }) => endings).join(',')

/** Texts out to whoever works on them, and back: what comes is shown before any of it goes in. */
export function InAndOut({ language, rows }: Props) {
  const session = useSession()
  const linked = useLinked()
  const scenes = useSessionState((state) => state.story.scenes)
  const { id } = useParams<{ id: string }>()
  const [came, setCame] = useState<Came>()
  const [form, setForm] = useState<string>(FORMS[0]!.id)
  const [scene, setScene] = useState('')
  const [withComments, setWithComments] = useState(false)
  const isOwn = language === linked.doc.language
  const accept = acceptedIn(isOwn)
  const read = async (file: File) => {
    if (file.size > INCOMING_BYTES)
      return session.tell(`“${file.name}” is too large: ${INCOMING_BYTES / 1024 / 1024} MB is the most.`)
    const format = formCalled('texts', file.name) ?? (isOwn ? formCalled('proofs', file.name) : undefined)
    if (format === undefined)
      return session.tell(
        `“${file.name}” has none of the endings ${accept.replaceAll(',', ', ')}; texts come in these forms.`,
      )
    const answer = await api.readTexts(id, format.id, file)
    if (!answer.ok) return session.tell(`“${file.name}”: ${answer.error.message}`)
    setCame({
      file: file.name,
      language: answer.value.language,
      judged: judgeTexts(linked, language, rows, answer.value.texts),
    })
  }
  const chosen = FORMS.find((one) => one.id === form)!
  return (
    <Box mb="2">
      <Flex gap="2" wrap="wrap" align="center">
        <select className="field" aria-label="Form" value={form} onChange={({ target }) => setForm(target.value)}>
          {FORMS.map(({ id: one, name }) => (
            <option key={one} value={one}>
              {name}
            </option>
          ))}
        </select>
        <select
          className="field"
          aria-label="Of which scene"
          value={scene}
          onChange={({ target }) => setScene(target.value)}
          style={{ maxWidth: '11rem' }}
        >
          <option value="">whole story</option>
          {scenes.map(({ id: one, title }) => (
            <option key={one} value={one}>
              {title}
            </option>
          ))}
        </select>
        <WithComments isWanted={withComments} onChange={setWithComments} />
        <SaveLink href={api.textsPath(id, language, form, { scene, withComments })}>Save to send</SaveLink>
        <EditFile label="Texts that come back" accept={accept} onPick={([file]) => void read(file!)}>
          Take in …
        </EditFile>
        <Text fontSize="sm" color="faded">
          {chosen.name}: {chosen.texts.says}.
        </Text>
      </Flex>
      {came !== undefined && <Preview came={came} language={language} onClose={() => setCame(undefined)} />}
    </Box>
  )
}

const SAYS: Readonly<Record<Fate, string>> = {
  new: 'new',
  changed: 'changed',
  conflict: 'changed here too',
  broken: 'would not play',
  unknown: 'not in the story any more',
  same: 'as it is here',
  empty: 'left empty',
}
const SHOWN: readonly Fate[] = ['conflict', 'broken', 'unknown', 'new', 'changed']
/** More rows of one kind are counted only. */
const LISTED = 200

function Preview({ came, language, onClose }: { came: Came; language: string; onClose: () => void }) {
  const session = useSession()
  const { judged, file } = came
  const [conflicts, setConflicts] = useState<ReadonlySet<string>>(new Set())
  const of = (fate: Fate) => judged.filter((one) => one.fate === fate)
  const chosen = judged.filter(
    ({ fate, incoming }) =>
      fate === 'new' || fate === 'changed' || (fate === 'conflict' && conflicts.has(incoming.key)),
  )
  const take = () => {
    const change = changeOfTexts(session.getState().story, language, chosen)
    const trouble = change && session.edit(change)
    if (trouble !== undefined) session.tell(trouble)
    onClose()
  }
  const isOther = came.language !== undefined && came.language.toLowerCase() !== language.toLowerCase()
  return (
    <Dialog title={`${file}, into ${languageName(language)}`} onClose={onClose} wide>
      {isOther && (
        <Text role="alert" color="needle">
          The file says that it is in {languageName(came.language)}.
        </Text>
      )}
      <Text>
        {said(judged.length, 'text')}:{' '}
        {(Object.keys(SAYS) as Fate[])
          .filter((fate) => of(fate).length > 0)
          .map((fate) => `${of(fate).length} ${SAYS[fate]}`)
          .join(', ')}
        .
      </Text>
      <Box overflowY="auto" maxH="50vh">
        {SHOWN.filter((fate) => of(fate).length > 0).map((fate) => (
          <Box key={fate} as="section" aria-label={SAYS[fate]} mb="3">
            <Text as="h3" fontWeight={600}>
              {SAYS[fate]}
            </Text>
            {of(fate)
              .slice(0, LISTED)
              .map(({ incoming, row, why }) => (
                <Box key={incoming.key} py="1" borderTop="1px solid" borderColor="hairline" fontSize="sm">
                  <Text color="faded">{row === undefined ? incoming.key : `${row.where}: ${row.source}`}</Text>
                  {row?.text !== undefined && row.text !== '' && <Text>here: {row.text}</Text>}
                  <Text fontFamily="story">{incoming.text}</Text>
                  {why !== undefined && <Text color="needle">{why}</Text>}
                  {fate === 'conflict' && (
                    <label>
                      <input
                        type="checkbox"
                        checked={conflicts.has(incoming.key)}
                        onChange={({ target }) => {
                          const next = new Set(conflicts)
                          if (target.checked) next.add(incoming.key)
                          else next.delete(incoming.key)
                          setConflicts(next)
                        }}
                      />{' '}
                      take it all the same
                    </label>
                  )}
                </Box>
              ))}
            {of(fate).length > LISTED && <Text color="faded">and {of(fate).length - LISTED} more</Text>}
          </Box>
        ))}
      </Box>
      <Flex gap="2">
        <Main data-first disabled={chosen.length === 0} onClick={take}>
          Take in {said(chosen.length, 'text')}
        </Main>
        <Plain onClick={onClose}>Take nothing</Plain>
      </Flex>
    </Dialog>
  )
}
