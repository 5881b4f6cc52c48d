import { HistoryView } from '../../../../views/history/history'

export default function HistoryPage() {
  return <HistoryView />
}
