import { Rehearse } from '../../../../views/rehearse/rehearse'

export default function RehearsePage() {
  return <Rehearse />
}
