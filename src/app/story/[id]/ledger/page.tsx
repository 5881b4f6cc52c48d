import { Ledger } from '../../../../views/ledger/ledger'

export default function LedgerPage() {
  return <Ledger />
}
