'use client'

import type { ComponentProps } from 'react'

/** A quiet button as plain as can be, for a page has hundreds of them; how it looks stands in the page's style. */
export function Bare({ className, ...props }: ComponentProps<'button'>) {
  return <button type="button" className={className === undefined ? 'bare' : `bare ${className}`} {...props} />
}
