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

export function machineTheme(): ThemeChoice {
  return window.matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}
