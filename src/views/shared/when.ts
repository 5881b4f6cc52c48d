/** A moment as it is read here: the hour, and the day where it is not today. */
export function sayMoment(moment: string, now = new Date()): string {
  const at = new Date(moment)
  const hour = at.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
  if (at.toDateString() === now.toDateString()) return `today, ${hour}`
  const isThisYear = at.getFullYear() === now.getFullYear()
  const day = at.toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'long',
    ...(isThisYear ? {} : { year: 'numeric' }),
  })
  return `${day}, ${hour}`
}
