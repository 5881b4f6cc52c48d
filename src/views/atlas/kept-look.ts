import type { OverlayId } from './overlays'
import { OVERLAYS } from './overlays'
import { STRIP, type Look } from './sheet'

/** What of the Atlas stands in its address. */
export interface Addressed {
  readonly overlay: OverlayId
  readonly of: string | undefined
  /** Scenes whose band is not as it is by itself. */
  readonly turned: readonly string[]
  readonly look: Look | undefined
  /** One comes to see the beat that the address names. */
  readonly isNear?: boolean
}

export function readAddress(search: string): Addressed {
  const params = new URLSearchParams(search)
  const overlay = OVERLAYS.find(({ id }) => id === params.get('show'))?.id ?? 'none'
  const at = (params.get('at') ?? '').split('_').map(Number)
  const [left, top, scale] = at
  const look =
    at.length === 3 && at.every(Number.isFinite) && scale! > 0
      ? { x: -left! * scale!, y: STRIP - top! * scale!, k: scale! }
      : undefined
  return {
    overlay,
    of: params.get('of') ?? undefined,
    turned: (params.get('turned') ?? '').split(',').filter((one) => one !== ''),
    look,
    isNear: params.has('near'),
  }
}

/** The part of the address behind the question mark; of a look the corner of the chart that is seen, so that it fits any window. */
export function writeAddress({ overlay, of, turned, look }: Addressed): string {
  const params = new URLSearchParams()
  if (overlay !== 'none') params.set('show', overlay)
  if (of !== undefined) params.set('of', of)
  if (turned.length > 0) params.set('turned', turned.join(','))
  if (look !== undefined) {
    const round = (value: number) => Math.round(value * 10) / 10
    params.set('at', [round(-look.x / look.k), round((STRIP - look.y) / look.k), look.k.toPrecision(3)].join('_'))
  }
  const text = params.toString()
  return text === '' ? '' : `?${text}`
}

/** A way of looking at the Atlas under a name. */
export interface KeptLook {
  readonly name: string
  readonly address: string
}

const nameOf = (story: string) => `paper-compass.atlas.${story}`

export function keptLooks(story: string): readonly KeptLook[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(nameOf(story)) ?? '[]')
    return Array.isArray(kept) ? (kept as KeptLook[]) : []
  } catch {
    return []
  }
}

export function keepLooks(story: string, looks: readonly KeptLook[]): void {
  localStorage.setItem(nameOf(story), JSON.stringify(looks))
}
