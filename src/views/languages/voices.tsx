'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useParams } from 'next/navigation'
import { useEffect, useState } from 'react'
import { formsFor } from '../../core/formats/forms'
import {
  markChange,
  matchRecordings,
  NARRATOR,
  recordedIn,
  sinceRecorded,
  stillToRecord,
  wordsByPerson,
  type TakeState,
  type VoiceRow,
} from '../../core/voices/takes'
import { api } from '../../session/api'
import { Plain, Quiet } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { PickFile } from '../../ui/pick-file'
import { EditPlain } from '../shared/fields/edits'
import { languageName } from '../shared/naming/language-name'
import { said } from '../shared/said'
import { SaveLink } from '../shared/save-link'
import { useSession, useSessionState } from '../shared/session/use-session'

const FORMS = formsFor('voices')
const LISTED = 60

/** What is to be recorded in a language: scripts for those who speak, and what there is of it. */
export function Voices({ language, onClose }: { language: string; onClose: () => void }) {
  const session = useSession()
  const { id } = useParams<{ id: string }>()
  const story = useSessionState((state) => state.story)
  const { scenes } = story
  const [told, setTold] = useState<{ complete: boolean; rows: readonly VoiceRow[] } | string>()
  const [person, setPerson] = useState('')
  const [scene, setScene] = useState('')
  const [onlyOpen, setOnlyOpen] = useState(false)
  const [earlier, setEarlier] = useState<ReadonlyMap<string, string>>()
  const [files, setFiles] = useState<readonly string[]>()
  useEffect(() => {
    let left = false
    void api.voices(id, language).then((answer) => {
      if (!left) setTold(answer.ok ? answer.value : answer.error.message)
    })
    return () => {
      left = true
    }
  }, [id, language])
  const readEarlier = async (file: File) => {
    const answer = await api.readVoices(id, file)
    if (answer.ok) setEarlier(new Map(Object.entries(answer.value)))
    else session.tell(`“${file.name}”: ${answer.error.message}`)
  }
  const mark = (texts: ReadonlyMap<string, string>, gone: readonly string[] = []) => {
    const change = markChange(story, language, texts, gone)
    const trouble = change && session.edit(change)
    if (trouble !== undefined) session.tell(trouble)
  }
  const recorded = recordedIn(story, language)
  const all = typeof told === 'object' ? told.rows : []
  const chosen = all.filter((row) => (person === '' || row.person === person) && (scene === '' || row.scene === scene))
  const open = stillToRecord(chosen, recorded)
  const rows = onlyOpen ? open : chosen
  const isWhole = person === '' && scene === ''
  const people = wordsByPerson(all)
  const since = sinceRecorded(chosen, earlier ?? recorded)
  const inState = (state: TakeState) => chosen.flatMap(({ file }) => (since.states.get(file) === state ? [file] : []))
  const gone = isWhole ? since.gone : []
  const matched = files && matchRecordings(chosen, files, earlier ?? recorded)
  const asked = { language, person, scene, onlyOpen }
  return (
    <Dialog title={`Voices, ${languageName(language)}`} onClose={onClose} wide>
      {told === undefined && <Text role="status">Working out what can really be said …</Text>}
      {typeof told === 'string' && (
        <Text role="alert" color="needle">
          {told}
        </Text>
      )}
      {typeof told === 'object' && (
        <Box overflowY="auto" maxH="65vh" display="grid" gap="4">
          {!told.complete && (
            <Text color="ochre">
              Too much is open at once to list what texts with forms come to; they stand as they are written.
            </Text>
          )}
          <Flex gap="2" wrap="wrap" align="center">
            <select
              className="field"
              aria-label="Who speaks"
              value={person}
              onChange={({ target }) => setPerson(target.value)}
            >
              <option value="">everybody</option>
              {people.map((one) => (
                <option key={one.person} value={one.person}>
                  {one.person === NARRATOR ? 'nobody (narration)' : one.who}
                </option>
              ))}
            </select>
            <select
              className="field"
              aria-label="In which scene"
              value={scene}
              onChange={({ target }) => setScene(target.value)}
            >
              <option value="">whole story</option>
              {scenes.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.title}
                </option>
              ))}
            </select>
            <label>
              <input type="checkbox" checked={onlyOpen} onChange={({ target }) => setOnlyOpen(target.checked)} /> only
              what is still to be recorded
            </label>
            {FORMS.map(({ id: form, name, voices: { says } }) =>
              form === 'html' ? (
                <Plain asChild key={form}>
                  <a href={api.voicesPath(id, asked, form, true)} target="_blank" rel="noopener" title={says}>
                    Open the script to print
                  </a>
                </Plain>
              ) : (
                <SaveLink key={form} href={api.voicesPath(id, asked, form)} title={says}>
                  Save the script ({name})
                </SaveLink>
              ),
            )}
          </Flex>
          <Text>
            {said(rows.length, 'text')},{' '}
            {said(
              rows.reduce((sum, row) => sum + row.words, 0),
              'word',
            )}{' '}
            to speak{recorded.size > 0 && `, ${open.length === 0 ? 'none' : open.length} of them still to be recorded`}.
            Each file is called by its key; a text with forms has one for each that can really occur.
          </Text>
          <Box as="table" fontSize="sm" w="fit-content" aria-label="Words of each person">
            <tbody>
              {people.map((one) => (
                <tr key={one.person}>
                  <td style={{ paddingInlineEnd: '2rem' }}>{one.who}</td>
                  <td style={{ paddingInlineEnd: '2rem', textAlign: 'end' }}>{said(one.texts, 'text')}</td>
                  <td style={{ textAlign: 'end' }}>{said(one.words, 'word')}</td>
                </tr>
              ))}
            </tbody>
          </Box>
          <Box>
            <Flex gap="2" align="center" wrap="wrap">
              <PickFile label="A script that was recorded" accept=".xlsx" onPick={([file]) => void readEarlier(file!)}>
                Compare with a recorded script …
              </PickFile>
              <PickFile
                label="Recordings"
                accept="audio/*"
                multiple
                onPick={(picked) => setFiles(picked.map(({ name }) => name))}
              >
                Check recordings …
              </PickFile>
              {open.length > 0 && (
                <EditPlain onClick={() => mark(new Map(open.map(({ file, text }) => [file, text])))}>
                  Mark {said(open.length, 'text')} as recorded
                </EditPlain>
              )}
              {(earlier !== undefined || files !== undefined) && (
                <Quiet
                  onClick={() => {
                    setEarlier(undefined)
                    setFiles(undefined)
                  }}
                >
                  put it away
                </Quiet>
              )}
            </Flex>
            {earlier !== undefined && (
              <Flex gap="2" mt="2" align="center" wrap="wrap">
                <Text>The script has {said(earlier.size, 'text')}.</Text>
                <EditPlain
                  onClick={() => {
                    mark(new Map([...earlier].filter(([file]) => since.states.has(file))))
                    setEarlier(undefined)
                  }}
                >
                  Mark them as recorded as they read there
                </EditPlain>
              </Flex>
            )}
            {(earlier !== undefined || recorded.size > 0) && (
              <>
                <Files title="new since" files={inState('new')} />
                <Files title="changed since" files={inState('changed')} />
                <Files title="no longer said" files={gone} />
                {earlier === undefined && gone.length > 0 && (
                  <Quiet onClick={() => mark(new Map(), gone)}>Forget what is no longer said</Quiet>
                )}
              </>
            )}
            {matched !== undefined && (
              <>
                <Text mt="2">{said(matched.present.length, 'recording')} present.</Text>
                <Files title="outdated: the text was changed since" files={matched.outdated} />
                <Files title="missing" files={matched.missing} />
                <Files title="called like no text" files={matched.unknown} />
              </>
            )}
          </Box>
        </Box>
      )}
    </Dialog>
  )
}

function Files({ title, files }: { title: string; files: readonly string[] }) {
  if (files.length === 0) return null
  return (
    <Box mt="2" fontSize="sm">
      <Text fontWeight={600}>
        {files.length} {title}
      </Text>
      <Box as="ul" aria-label={title} listStyleType="none">
        {files.slice(0, LISTED).map((file) => (
          <li key={file}>{file}</li>
        ))}
      </Box>
      {files.length > LISTED && <Text color="faded">and {files.length - LISTED} more</Text>}
    </Box>
  )
}
