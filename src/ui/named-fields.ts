/** The field of the page that has a name; undefined where it is not drawn. */
export function fieldNamed(name: string, within: ParentNode = document): HTMLElement | undefined {
  return within.querySelector<HTMLElement>(`[data-field="${CSS.escape(name)}"]`) ?? undefined
}

/** Focuses a field by its name once the page has been drawn with it; with the cursor at a place, or all of it selected. */
export function focusSoon(field: string, caret?: number | 'all', tries = 24): void {
  requestAnimationFrame(() => {
    const found = fieldNamed(field)
    if (found !== undefined) {
      // an unwritten road is written at once
      if (found.dataset.unwritten !== undefined) return found.click()
      found.focus()
      found.scrollIntoView({ block: 'nearest' })
      if (caret === undefined || !(found instanceof HTMLTextAreaElement || found instanceof HTMLInputElement)) return
      if (caret === 'all') found.select()
      else found.setSelectionRange(caret, caret)
    } else if (tries > 0) focusSoon(field, caret, tries - 1)
  })
}
