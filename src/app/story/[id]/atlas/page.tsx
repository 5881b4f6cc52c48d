import { Atlas } from '../../../../views/atlas/atlas'
import { Rehearse } from '../../../../views/rehearse/rehearse'

export default function AtlasPage() {
  return <Atlas beside={<Rehearse beside />} />
}
