import { Lost } from '../views/shared/lost'

export default function NotFound() {
  return (
    <Lost title="Nothing stands at this address" text="The page may have been moved, or the address was typed wrong." />
  )
}
