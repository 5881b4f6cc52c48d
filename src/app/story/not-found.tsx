import { Lost } from '../../views/shared/lost'

export default function NoSuchStory() {
  return (
    <Lost
      title="There is no story at this address"
      text="It may have been deleted. The library lists the stories that are here."
    />
  )
}
