import '@fontsource-variable/literata/index.css'
import '@fontsource-variable/literata/wght-italic.css'
import '@fontsource-variable/source-sans-3/index.css'
import type { Metadata } from 'next'
import { cookies, headers } from 'next/headers'
import type { ReactNode } from 'react'
import { UiProvider } from '../ui/provider'
import { THEME_COOKIE } from '../ui/theme-choice'
import { preloadFonts } from './fonts'
import { storyBytes } from './server/story-limit'

export const metadata: Metadata = {
  title: { default: 'Paper Compass', template: '%s · Paper Compass' },
  description: 'A writing desk for branching dialogue and quests that always knows where the story can go.',
}

export default async function RootLayout({ children }: { children: ReactNode }) {
  preloadFonts()
  const nonce = (await headers()).get('x-nonce') ?? undefined
  const kept = (await cookies()).get(THEME_COOKIE)?.value
  const theme = kept === 'dark' || kept === 'light' ? kept : undefined
  return (
    <html lang="en" className={theme} data-story-bytes={storyBytes()} suppressHydrationWarning>
      <body>
        <UiProvider nonce={nonce}>{children}</UiProvider>
      </body>
    </html>
  )
}
