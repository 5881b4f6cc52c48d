import { fieldNamed } from '../../../ui/named-fields'
import { beatOf } from '../../../core/base/address'
import { isFocusIdle } from '../../../ui/focus-back'

/** So many frames are waited for the row, after its beat is drawn, before the beat's first text is taken. */
const PATIENCE = 12
/** And so many for the beat itself. */
const FRAMES = 240

/** Counts calls: a later one is what is meant. */
let latest = 0

/** The field is held against a dialog that gives the focus back for so many frames, or until somebody does something. */
const HELD = 20

/**
 * Puts the cursor into the row that an address names, and marks the row until it is left; `part`: into its gate
 * (`when`), or an effect (`do1`). A beat's first text where the address names no more, or where the row is not there.
 * `gently`: only while nobody has gone anywhere by hand.
 */
export function focusRow(address: string, part?: string, gently = false): void {
  // a field of a beat stands behind a colon
  const owner = address.replace(/:.*$/, '')
  const beat = beatOf(owner) ?? owner
  const names = [
    ...(part === undefined ? [] : [`${address}?${part}`]),
    address,
    `${address}>to`,
    `${address}.line1`,
    `${address}.variant1.line1`,
    `${address}.turn1.line1`,
    `${address}?when`,
    `${address}?do1`,
  ]
  latest += 1
  const call = latest
  let waited = 0
  let frames = 0
  const look = () => {
    if (call !== latest || (gently && !isFocusIdle())) return
    const section = document.getElementById(beat)
    const found = section && (fieldIn(section, names) ?? (waited >= PATIENCE ? firstText(section) : undefined))
    if (found) return settle(found, () => call === latest)
    if (section !== null) waited += 1
    frames += 1
    if (frames < FRAMES) requestAnimationFrame(look)
  }
  requestAnimationFrame(look)
}

function fieldIn(section: HTMLElement, names: readonly string[]): HTMLElement | undefined {
  for (const name of names) {
    const found = fieldNamed(name, section)
    if (found !== undefined) return found
  }
  return undefined
}

function firstText(section: HTMLElement): HTMLElement | undefined {
  return (
    section.querySelector<HTMLElement>('.line .draft, .ask .draft, .choice-text .draft') ??
    section.querySelector<HTMLElement>('.draft') ??
    undefined
  )
}

function settle(field: HTMLElement, isMeant: () => boolean): void {
  take(field)
  let touched = false
  const touch = () => (touched = true)
  for (const event of ['keydown', 'pointerdown']) window.addEventListener(event, touch, { once: true, capture: true })
  // a dialog that closes gives the focus back to where it was opened, a little later
  let frames = 0
  const hold = () => {
    if (touched || !isMeant()) return
    if (document.activeElement !== field) {
      // whoever has gone elsewhere meanwhile is left there
      if (!isFocusIdle()) return
      take(field)
    }
    frames += 1
    if (frames < HELD) requestAnimationFrame(hold)
  }
  requestAnimationFrame(hold)
  const row = field.closest<HTMLElement>('.row')
  if (row === null) return
  row.dataset.meant = ''
  row.addEventListener('focusout', () => {
    if (touched) delete row.dataset.meant
  })
}

function take(field: HTMLElement): void {
  field.focus()
  field.scrollIntoView({ block: 'nearest' })
}
