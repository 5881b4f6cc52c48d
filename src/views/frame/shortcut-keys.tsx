'use client'

import { Box, chakra, Flex } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { useEffect, useMemo } from 'react'
import { bindKeys } from '../../ui/key-bindings'
import { Plain } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { placeOfFinding, useNextFinding } from '../shared/session/findings'
import { useThings } from '../shared/naming/things'
import { useGoTo } from '../shared/session/use-go-to'
import { useTravel } from '../shared/session/use-travel'
import { useSession } from '../shared/session/use-session'
import { commandsOf, type Command, type Overlay } from './commands'
import { KEY_TABLE, OTHER_KEYS, SHORTCUTS } from './key-table'
import { Palette } from './palette'
import { ReplaceDialog } from './replace-dialog'

function typing(event: KeyboardEvent): boolean {
  const { target } = event
  return target instanceof HTMLElement && (target.matches('input, textarea, select') || target.isContentEditable)
}

function press({ leavesField, notWhileWriting, run }: Command, event: KeyboardEvent): void {
  if (notWhileWriting === true && typing(event)) return
  event.preventDefault()
  if (leavesField === true && event.target instanceof HTMLElement) event.target.blur()
  run()
}

interface Props {
  readonly id: string
  readonly open: Overlay | undefined
  readonly onOpen: (overlay: Overlay | undefined) => void
}

/** The keys that work in every view, and what they open. */
export function ShortcutKeys({ id, open, onOpen: setOpen }: Props) {
  const session = useSession()
  const things = useThings()
  const router = useRouter()
  const next = useNextFinding()
  const goToRow = useGoTo()
  const travel = useTravel()
  const commands = useMemo(() => {
    const nextFinding = (step: 1 | -1) => {
      const finding = next(step)
      const place = finding && placeOfFinding(session.getState().story, finding)
      if (place === undefined) return
      goToRow(place.address, place.part)
    }
    return commandsOf({
      session,
      things,
      travel,
      goTo: (view, more = '') => router.push(`/story/${id}/${view}${more}`),
      open: setOpen,
      nextFinding,
    })
  }, [session, things, router, id, next, setOpen, goToRow, travel])
  useEffect(
    () =>
      bindKeys(
        Object.fromEntries(
          commands.flatMap((command) =>
            [KEY_TABLE[command.id], OTHER_KEYS[command.id]].flatMap((key) =>
              key === undefined ? [] : [[key, (event: KeyboardEvent) => press(command, event)]],
            ),
          ),
        ),
      ),
    [commands],
  )
  const close = () => setOpen(undefined)
  if (open === 'palette') return <Palette id={id} commands={commands} onClose={close} />
  if (open === 'replace') return <ReplaceDialog onClose={close} />
  if (open === undefined) return null
  return (
    <Dialog title="Keys" onClose={close}>
      <Box overflowY="auto" tabIndex={0} role="group" aria-label="All keys">
        <chakra.dl display="grid" gridTemplateColumns="auto 1fr" columnGap="5" rowGap="1.5">
          {SHORTCUTS.map(({ keys, does }) => (
            <chakra.div key={keys} display="contents">
              <chakra.dt fontWeight={600}>{keys}</chakra.dt>
              <chakra.dd color="faded">{does}</chakra.dd>
            </chakra.div>
          ))}
        </chakra.dl>
      </Box>
      <Flex>
        <Plain onClick={close}>Close</Plain>
      </Flex>
    </Dialog>
  )
}
