'use client'

import { Lost } from '../views/shared/lost'

export default function ErrorPage({ error }: { error: Error }) {
  return (
    <Lost
      title="This page could not be shown"
      text={`Something went wrong: ${error.message}. What was saved is safe; open the story again from the library.`}
    />
  )
}
