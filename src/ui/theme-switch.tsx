'use client'

import { useEffect, useState } from 'react'
import { Quiet } from './buttons'
import { applyTheme, keepTheme, machineTheme, type ThemeChoice } from './theme-choice'

/** Turns light into dark and back. `chosen`: what the cookie says; undefined: as the machine is set. */
export function ThemeSwitch() {
  const [theme, setTheme] = useState<ThemeChoice>('light')
  useEffect(() => {
    const { classList } = document.documentElement
    const now: ThemeChoice = classList.contains('dark')
      ? 'dark'
      : classList.contains('light')
        ? 'light'
        : machineTheme()
    applyTheme(now)
    // eslint-disable-next-line react-hooks/set-state-in-effect -- what the page shows is known only in the browser
    setTheme(now)
  }, [])
  const other: ThemeChoice = theme === 'dark' ? 'light' : 'dark'
  return (
    <Quiet
      onClick={() => {
        keepTheme(other)
        setTheme(other)
      }}
    >
      {other === 'dark' ? 'Dark' : 'Light'}
    </Quiet>
  )
}
