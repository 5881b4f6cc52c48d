import { createSystem, defineConfig } from '@chakra-ui/react'
// not the preset of both, which makes a system of its own at each start of a page
import { defaultBaseConfig } from '@chakra-ui/react/preset-base'
import { defaultThemeConfig } from '@chakra-ui/react/theme'

/** Paper, ink and a compass needle. Every colour has a light and a dark value; contrast is at least 4.5 to 1 for text. */
const semantic = (light: string, dark: string) => ({ value: { _light: light, _dark: dark } })

const config = defineConfig({
  // a rule of a layer that comes late has the browser read its fonts and lay out the whole page anew
  disableLayers: true,
  globalCss: {
    'html, body': {
      bg: 'ground',
      color: 'ink',
      fontFamily: 'body',
      fontSize: '14px',
      lineHeight: 1.45,
      // else a letter is as wide as whole pixels where the system says so, and small words run together
      textRendering: 'geometricPrecision',
      // what the browser draws itself, a ticked box say, is of ink as well
      accentColor: 'ink',
      height: '100%',
    },
    '*:focus-visible': { outline: '2px solid', outlineColor: 'needle', outlineOffset: '1px' },
    '[data-toured]': { outline: '2px solid', outlineColor: 'needle', outlineOffset: '3px' },
    '::selection': { bg: 'needle.wash' },
    'button, a': { cursor: 'pointer' },
    'input[type="checkbox"]': { verticalAlign: 'middle', marginTop: '-2px', marginInlineEnd: '4px' },
    'button, input, select, textarea': { textRendering: 'inherit' },
    // a text that takes several lines is read from the left, on a button too
    '.wrapped': { textAlign: 'left' },
    '.comment-mark': {
      display: 'block',
      maxWidth: '100%',
      textAlign: 'left',
      fontSize: 'sm',
      color: 'ink',
      borderLeft: '2px solid',
      borderColor: 'needle',
      paddingLeft: '6px',
      overflow: 'hidden',
      textOverflow: 'ellipsis',
      _hover: { bg: 'wash' },
    },
    '.comment-offer': { fontSize: 'sm', color: 'faded', minHeight: '24px', _hover: { color: 'ink' } },
    '.comment-field': { width: '100%', resize: 'vertical', marginTop: '4px' },
    // a text edited in place looks like the text it is
    '.draft': {
      display: 'block',
      width: '100%',
      minHeight: '24px',
      fieldSizing: 'content',
      resize: 'none',
      overflow: 'hidden',
      bg: 'transparent',
      border: 'none',
      padding: '0',
      color: 'inherit',
      font: 'inherit',
      lineHeight: 'inherit',
      _placeholder: { color: 'faded', fontStyle: 'italic' },
    },
    '.draft:focus': { outline: 'none', bg: 'wash' },
    '.column-edge': {
      position: 'absolute',
      insetInline: 0,
      top: '0.6rem',
      height: '2.2rem',
      display: 'flex',
      alignItems: 'center',
      justifyContent: 'center',
      color: 'faded',
    },
    '.column-edge:hover': { color: 'ink', bg: 'wash' },
    '.skip': { position: 'absolute', left: '-100vw', top: '0.25rem', zIndex: 'popover', bg: 'sheet', px: '3', py: '1' },
    '.skip:focus': { left: '0.5rem' },
    '.field.number': { width: '3.2rem', flexShrink: 0 },
    '.field': {
      minHeight: '24px',
      bg: 'sheet',
      border: '1px solid',
      borderColor: 'edge',
      borderRadius: 'sheet',
      px: '2',
      py: '1',
    },
  },
  theme: {
    tokens: {
      fonts: {
        body: { value: "'Source Sans 3 Variable', system-ui, sans-serif" },
        heading: { value: "'Source Sans 3 Variable', system-ui, sans-serif" },
        story: { value: "'Literata Variable', Georgia, serif" },
      },
      radii: { sheet: { value: '3px' } },
    },
    semanticTokens: {
      colors: {
        ground: semantic('#f1eadc', '#1b1916'),
        sheet: semantic('#fcf9f2', '#24211d'),
        wash: semantic('#e8dfcd', '#302c26'),
        ink: semantic('#29241f', '#ece5d8'),
        faded: semantic('#655c50', '#b0a697'),
        hairline: semantic('#d6cab5', '#413b33'),
        edge: semantic('#8d8271', '#857b6c'),
        needle: {
          DEFAULT: semantic('#b8341a', '#ff8362'),
          wash: semantic('#f6dcd2', '#4a2a20'),
          on: semantic('#fffaf3', '#24130d'),
        },
        kept: { DEFAULT: semantic('#17645f', '#7fd1c7'), wash: semantic('#d9ebe5', '#1f3a37') },
        ochre: { DEFAULT: semantic('#7d5200', '#e6b958'), wash: semantic('#f5e6c4', '#43361a') },
        bg: {
          DEFAULT: { value: '{colors.sheet}' },
          subtle: { value: '{colors.ground}' },
          muted: { value: '{colors.wash}' },
          panel: { value: '{colors.sheet}' },
        },
        fg: { DEFAULT: { value: '{colors.ink}' }, muted: { value: '{colors.faded}' } },
        border: { DEFAULT: { value: '{colors.hairline}' } },
        // of fields
        gray: { focusRing: { value: '{colors.needle}' } },
      },
    },
  },
})

export const system = createSystem(defaultBaseConfig, defaultThemeConfig, config)
