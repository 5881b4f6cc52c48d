'use client'

import { useEffect, useState } from 'react'
import { Quiet } from './buttons'
import { followTheme, keepTheme, type ThemeChoice } from './theme-choice'

/** Turns light into dark and back; until then the page is as the machine is set. */
export function ThemeSwitch() {
  const [theme, setTheme] = useState<ThemeChoice>('light')
  useEffect(() => followTheme(setTheme), [])
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
