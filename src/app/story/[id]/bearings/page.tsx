import { Bearings } from '../../../../views/bearings/bearings'

export default function BearingsPage() {
  return <Bearings />
}
