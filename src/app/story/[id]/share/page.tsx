import { ShareView } from '../../../../views/members/share'

export default function SharePage() {
  return <ShareView />
}
