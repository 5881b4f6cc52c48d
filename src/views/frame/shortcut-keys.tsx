'use client'

import { Box, chakra, Flex } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { useEffect, useMemo } from 'react'
import { bindKeys } from '../../ui/key-bindings'
import { Plain } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { placeOfFinding, useNextFinding } from '../shared/findings'
import { useThings } from '../shared/things'
import { useSession } from '../shared/use-session'
import { commandsOf } from './commands'
import { Palette } from './palette'
import { ReplaceDialog } from './replace-dialog'
import { SHORTCUTS } from './shortcuts'
import { VIEWS } from './top-bar'

function typing(event: KeyboardEvent): boolean {
  const { target } = event
  return target instanceof HTMLElement && (target.matches('input, textarea, select') || target.isContentEditable)
}

/** What is laid over the page. */
export type Overlay = 'keys' | 'palette' | 'replace'

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
  const commands = useMemo(() => {
    const nextFinding = (step: 1 | -1) => {
      const finding = next(step)
      const place = finding && placeOfFinding(session.getState().story, finding)
      if (place === undefined) return
      session.goTo(place)
      router.push(`/story/${id}/desk#${place}`)
    }
    return commandsOf({
      session,
      things,
      goTo: (view) => router.push(`/story/${id}/${view}`),
      open: setOpen,
      nextFinding,
    })
  }, [session, things, router, id, next, setOpen])
  useEffect(() => {
    const run = (name: string) => (event: KeyboardEvent) => {
      event.preventDefault()
      commands.find((command) => command.name === name)?.run()
    }
    const edit = (name: string) => (event: KeyboardEvent) => {
      // what was typed becomes an edit first
      if (event.target instanceof HTMLElement) event.target.blur()
      run(name)(event)
    }
    const show = (what: Overlay) => (event: KeyboardEvent) => {
      event.preventDefault()
      if (event.target instanceof HTMLElement) event.target.blur()
      setOpen(what)
    }
    return bindKeys({
      F8: run('Next finding'),
      'Shift+F8': run('Finding before'),
      '$mod+z': edit('Undo'),
      '$mod+Shift+z': edit('Redo'),
      '$mod+k': show('palette'),
      '$mod+Shift+h': show('replace'),
      'Alt+ArrowLeft': edit('Back to where I was'),
      'Alt+ArrowRight': edit('Forward again'),
      'Shift+?': (event) => {
        if (!typing(event)) show('keys')(event)
      },
      ...Object.fromEntries(
        VIEWS.map(({ key, path }) => [
          `Alt+${key}`,
          (event: KeyboardEvent) => {
            event.preventDefault()
            router.push(`/story/${id}/${path}`)
          },
        ]),
      ),
    })
  }, [commands, router, id, setOpen])
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
