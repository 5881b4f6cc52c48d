'use client'

import { plainId } from '../../core/base/ids'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { readCsv, writeCsv } from '../../core/formats/csv/csv'
import { readLedgerTable, writeLedgerTable, type LedgerImport } from '../../core/formats/ledger-table/table'
import { Main, Plain, Quiet } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { EditFile } from '../shared/fields/edits'
import { saveFile } from '../../ui/save-file'
import { useSession } from '../shared/session/use-session'

type Read =
  | { readonly kind: 'read'; readonly found: LedgerImport }
  | { readonly kind: 'refused'; readonly troubles: readonly string[] }
const SHOWN = 20

/** The ledger as a table for a spreadsheet, and back; what a table would change is shown first. */
export function TableFile() {
  const session = useSession()
  const [read, setRead] = useState<Read>()
  const take = async (chosen: File) => {
    const found = readLedgerTable(session.getState().story, readCsv(await chosen.text()))
    setRead(found.ok ? { kind: 'read', found: found.value } : { kind: 'refused', troubles: found.error })
  }
  return (
    <Flex gap="2" align="center">
      <Quiet onClick={() => saveFile('ledger.csv', writeCsv(writeLedgerTable(session.getState().story)), 'text/csv')}>
        Save as CSV
      </Quiet>
      <EditFile as={Quiet} label="A CSV file of entries" accept=".csv,text/csv" onPick={([file]) => void take(file!)}>
        Read from CSV
      </EditFile>
      {read !== undefined && <Preview read={read} onClose={() => setRead(undefined)} />}
    </Flex>
  )
}

function Preview({ read, onClose }: { read: Read; onClose: () => void }) {
  const session = useSession()
  if (read.kind === 'refused') {
    return (
      <Dialog title="This table can’t be taken" onClose={onClose}>
        <Text>Nothing was changed. Mend these in the file and read it again:</Text>
        <Box role="alert" color="needle" maxH="18rem" overflowY="auto" tabIndex={0}>
          {read.troubles.slice(0, SHOWN).map((trouble) => (
            <Text key={trouble}>{trouble}</Text>
          ))}
          {read.troubles.length > SHOWN && <Text>and {read.troubles.length - SHOWN} more</Text>}
        </Box>
        <Plain onClick={onClose}>Close</Plain>
      </Dialog>
    )
  }
  const { found } = read
  const names = (ids: readonly string[]) =>
    ids.slice(0, SHOWN).map(plainId).join(', ') + (ids.length > SHOWN ? ` and ${ids.length - SHOWN} more` : '')
  const nothing = found.added.length === 0 && found.changed.length === 0
  return (
    <Dialog title="What the table would change" onClose={onClose}>
      {nothing && <Text>Nothing: the ledger is as the table says.</Text>}
      {found.added.length > 0 && <Text>New: {names(found.added)}</Text>}
      {found.changed.length > 0 && <Text>Changed: {names(found.changed)}</Text>}
      {found.untouched.length > 0 && (
        <Text color="faded">Not in the table, and left as they are: {names(found.untouched)}</Text>
      )}
      <Flex gap="2">
        <Main
          disabled={nothing}
          onClick={() => {
            session.edit(found.change)
            onClose()
          }}
        >
          Take it over
        </Main>
        <Plain onClick={onClose}>Cancel</Plain>
      </Flex>
    </Dialog>
  )
}
