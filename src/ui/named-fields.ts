/** So many frames are waited for another view to be drawn. */
const VIEW_FRAMES = 240

/** The field of the page that has a name; undefined where it is not drawn. */
export function fieldNamed(name: string, within: ParentNode = document): HTMLElement | undefined {
  return within.querySelector<HTMLElement>(`[data-field="${CSS.escape(name)}"]`) ?? undefined
}

/**
 * Focuses a field by its name as soon as the page has been drawn with it; with the cursor at a place, or all of it
 * selected. An edit is drawn before the next key is heard, so that what is typed right after it lands in that field.
 */
export function focusSoon(field: string, caret?: number | 'all', tries = 24): void {
  queueMicrotask(() => {
    const taken = takeNamed(field, caret)
    requestAnimationFrame(() => {
      // drawn later, or drawn anew
      if (taken === undefined || fieldNamed(field) !== taken) waitFor(field, caret, tries)
    })
  })
}

/** Focuses a field of a view that one is on the way to. */
export function focusWhenDrawn(field: string): void {
  requestAnimationFrame(() => waitFor(field, 'all', VIEW_FRAMES))
}

function waitFor(field: string, caret: number | 'all' | undefined, tries: number): void {
  if (takeNamed(field, caret) === undefined && tries > 0) requestAnimationFrame(() => waitFor(field, caret, tries - 1))
}

function takeNamed(field: string, caret: number | 'all' | undefined): HTMLElement | undefined {
  const found = fieldNamed(field)
  if (found === undefined) return undefined
  // what is unwritten yet is written at once
  if (found.dataset.unwritten !== undefined) {
    found.click()
    return found
  }
  found.focus()
  found.scrollIntoView({ block: 'nearest' })
  const isText = found instanceof HTMLTextAreaElement || found instanceof HTMLInputElement
  if (caret === 'all' && isText) found.select()
  else if (typeof caret === 'number' && isText) found.setSelectionRange(caret, caret)
  return found
}
