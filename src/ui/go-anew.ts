/** Leaves this page for another one, and all that it holds with it. */
export function goAnew(to: string): void {
  window.location.assign(to)
}
