import { LanguagesView } from '../../../../views/languages/languages'

export default function LanguagesPage() {
  return <LanguagesView />
}
