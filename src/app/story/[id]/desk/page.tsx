import { Desk } from '../../../../views/desk/desk'

export default function DeskPage() {
  return <Desk />
}
