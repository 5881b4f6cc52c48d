/** Where a dialog that was closed gave the focus back last. */
let last: Element | undefined

/** Gives the focus back to where it was before a dialog. */
export function giveFocusBack(to: HTMLElement): void {
  last = to
  to.focus()
}

/** Whether the focus is nowhere, or where a dialog has just put it: nobody has chosen that. */
export function isFocusIdle(): boolean {
  const { activeElement } = document
  return activeElement === null || activeElement === document.body || activeElement === last
}
