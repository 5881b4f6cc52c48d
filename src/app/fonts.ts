import { preload } from 'react-dom'

/** What every page is set in. Others, for other alphabets, are asked for where a text needs them. */
const FONTS = [
  new URL('@fontsource-variable/source-sans-3/files/source-sans-3-latin-wght-normal.woff2', import.meta.url),
  new URL('@fontsource-variable/literata/files/literata-latin-wght-normal.woff2', import.meta.url),
  new URL('@fontsource-variable/literata/files/literata-latin-wght-italic.woff2', import.meta.url),
]

/** Has the fonts read while the scripts are: one that comes later has the whole page laid out again. */
export function preloadFonts(): void {
  for (const { href } of FONTS) preload(href, { as: 'font', type: 'font/woff2', crossOrigin: 'anonymous' })
}
