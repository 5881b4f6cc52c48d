import { CommentsView } from '../../../../views/comments/comments'

export default function CommentsPage() {
  return <CommentsView />
}
