/** Light or dark: chosen by hand and kept in a cookie, else as the machine is set. */
export type ThemeChoice = 'light' | 'dark'

export const THEME_COOKIE = 'paper-compass-theme'
const YEAR_S = 365 * 24 * 60 * 60

export function applyTheme(choice: ThemeChoice): void {
  document.documentElement.classList.remove('light', 'dark')
  document.documentElement.classList.add(choice)
  document.documentElement.style.colorScheme = choice
}

export function keepTheme(choice: ThemeChoice): void {
  document.cookie = `${THEME_COOKIE}=${choice}; path=/; max-age=${YEAR_S}; samesite=strict`
  applyTheme(choice)
}

const isChosen = () => document.cookie.split('; ').some((one) => one.startsWith(`${THEME_COOKIE}=`))

/** The light that the page is to have: tells it now, and each time the machine is set otherwise while nothing is chosen by hand. Gives what ends that. */
export function followTheme(tell: (theme: ThemeChoice) => void): () => void {
  const machine = window.matchMedia('(prefers-color-scheme: dark)')
  const asMachine = (): ThemeChoice => (machine.matches ? 'dark' : 'light')
  const show = (theme: ThemeChoice) => {
    applyTheme(theme)
    tell(theme)
  }
  const { classList } = document.documentElement
  show(isChosen() ? (classList.contains('dark') ? 'dark' : 'light') : asMachine())
  const hear = () => {
    if (!isChosen()) show(asMachine())
  }
  machine.addEventListener('change', hear)
  return () => machine.removeEventListener('change', hear)
}
