import { Desk } from '../../../../views/desk/desk'
import { Rehearse } from '../../../../views/rehearse/rehearse'

export default function DeskPage() {
  return <Desk beside={<Rehearse beside />} />
}
