import { COLOURS, type Palette } from './sheet'

/** The theme's colours as they are now, for a canvas. */
export function paletteOf(element: Element): Palette {
  const style = getComputedStyle(element)
  return Object.fromEntries(
    COLOURS.map((name) => [name, style.getPropertyValue(`--chakra-colors-${name}`).trim() || '#888']),
  ) as Palette
}
