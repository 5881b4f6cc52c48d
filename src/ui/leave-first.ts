import { useEffect } from 'react'

/**
 * Whatever is being written in when the page is left, by Back or for good, is left first, so that it is kept. For the outermost part of
 * the page: the router may draw the other page between two who hear of Back, and hears of it in the order in which it was asked.
 */
export function useLeaveFirst(): void {
  useEffect(() => {
    const leave = () => document.activeElement instanceof HTMLElement && document.activeElement.blur()
    window.addEventListener('popstate', leave, true)
    window.addEventListener('pagehide', leave, true)
    return () => {
      window.removeEventListener('popstate', leave, true)
      window.removeEventListener('pagehide', leave, true)
    }
  }, [])
}
