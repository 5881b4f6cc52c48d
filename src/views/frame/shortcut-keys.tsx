'use client'

import { chakra } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { useEffect, useRef } from 'react'
import { tinykeys } from 'tinykeys'
import { Plain } from '../../ui/buttons'
import { placeOfFinding, useNextFinding } from '../shared/findings'
import { useSession } from '../shared/use-session'
import { SHORTCUTS } from './shortcuts'
import { VIEWS } from './top-bar'

function typing(event: KeyboardEvent): boolean {
  const { target } = event
  return target instanceof HTMLElement && (target.matches('input, textarea, select') || target.isContentEditable)
}

/** The keys that work in every view, and the list of all keys. */
export function ShortcutKeys({ id }: { id: string }) {
  const session = useSession()
  const router = useRouter()
  const dialog = useRef<HTMLDialogElement>(null)
  const next = useNextFinding()
  useEffect(() => {
    const go = (event: KeyboardEvent, step: 1 | -1) => {
      event.preventDefault()
      const finding = next(step)
      const place = finding && placeOfFinding(session.getState().story, finding)
      if (place === undefined) return
      session.goTo(place)
      router.push(`/story/${id}/desk#${place}`)
    }
    return tinykeys(window, {
      F8: (event) => go(event, 1),
      'Shift+F8': (event) => go(event, -1),
      '$mod+z': (event) => {
        event.preventDefault()
        if (event.target instanceof HTMLElement) event.target.blur()
        void session.undo()
      },
      '$mod+Shift+z': (event) => {
        event.preventDefault()
        if (event.target instanceof HTMLElement) event.target.blur()
        void session.redo()
      },
      'Shift+?': (event) => {
        if (typing(event)) return
        event.preventDefault()
        dialog.current?.showModal()
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
  }, [session, router, id, next])
  return (
    <chakra.dialog ref={dialog} aria-labelledby="keys-title" m="auto" p="6" bg="sheet" color="ink" border="1px solid" borderColor="edge" borderRadius="sheet" maxW="36rem" css={{ '&::backdrop': { background: 'color-mix(in srgb, black 35%, transparent)' } }}>
      <chakra.h2 id="keys-title" fontFamily="story" fontSize="lg" mb="3">
        Keys
      </chakra.h2>
      <chakra.dl display="grid" gridTemplateColumns="auto 1fr" columnGap="5" rowGap="1.5">
        {SHORTCUTS.map(({ keys, does }) => (
          <chakra.div key={keys} display="contents">
            <chakra.dt fontWeight={600}>{keys}</chakra.dt>
            <chakra.dd color="faded">{does}</chakra.dd>
          </chakra.div>
        ))}
      </chakra.dl>
      <Plain mt="4" onClick={() => dialog.current?.close()}>
        Close
      </Plain>
    </chakra.dialog>
  )
}
