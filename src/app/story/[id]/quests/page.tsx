import { Quests } from '../../../../views/quests/quests'

export default function QuestsPage() {
  return <Quests />
}
