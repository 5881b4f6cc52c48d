import { ExportView } from '../../../../views/export/export'

export default function ExportPage() {
  return <ExportView />
}
