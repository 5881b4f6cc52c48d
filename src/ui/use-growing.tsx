'use client'

import { useEffect, useRef, useState, type ReactNode } from 'react'

/** How far below the page more is drawn before one comes there. */
const AHEAD = '1200px'

/** Draws a long list bit by bit as one comes to its end: how many items to draw, and what stands behind them. */
export function useGrowing(total: number, step: number): { readonly shown: number; readonly end: ReactNode } {
  const [shown, setShown] = useState(step)
  const mark = useRef<HTMLDivElement>(null)
  const more = shown < total
  useEffect(() => {
    const target = mark.current
    if (!more || target === null) return
    const observer = new IntersectionObserver(
      (entries) => entries.some(({ isIntersecting }) => isIntersecting) && setShown((now) => now + step),
      { rootMargin: AHEAD },
    )
    observer.observe(target)
    return () => observer.disconnect()
  }, [more, shown, step])
  return { shown: Math.min(shown, total), end: more ? <div ref={mark} style={{ minHeight: '1px' }} /> : null }
}
