/**
 * An editor that closes as one presses elsewhere may move what is pressed from under the pointer, and the click would go
 * nowhere. Whoever closes then says so, and what was pressed is clicked once the pointer is up.
 */

/** Further than this it was no click, in pixels. */
const NEAR = 6
/** What can be clicked. */
const CLICKABLE = 'button, a[href], [role=tab], [role=button], [role=option], summary, label'

let pressed: { readonly target: Element; readonly x: number; readonly y: number } | undefined
let closed = false
let clicked = false

if (typeof window !== 'undefined') {
  window.addEventListener(
    'pointerdown',
    (event) => {
      closed = false
      clicked = false
      const target = event.button === 0 && event.target instanceof Element ? event.target.closest(CLICKABLE) : null
      pressed = target === null ? undefined : { target, x: event.clientX, y: event.clientY }
    },
    true,
  )
  window.addEventListener(
    'click',
    (event) => {
      if (pressed !== undefined && event.target instanceof Node && pressed.target.contains(event.target)) clicked = true
    },
    true,
  )
  window.addEventListener(
    'pointerup',
    (event) => {
      const press = pressed
      if (press === undefined || !closed || Math.hypot(event.clientX - press.x, event.clientY - press.y) > NEAR) return
      setTimeout(() => {
        if (!clicked && press.target.isConnected) (press.target as HTMLElement).click()
        pressed = undefined
      })
    },
    true,
  )
}

/** Something has closed because it was left: if a press did that, its click is kept. */
export function keepClick(): void {
  if (pressed !== undefined) closed = true
}
