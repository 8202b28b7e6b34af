import { Button } from 'antd'

interface Props {
  /** How many it is about, said after the verb. */
  what: string
  pending: boolean
  stale: boolean
  onTry: () => void
  onRepair: () => void
}

/** To see what a repair would do, and to make it. */
export function RepairButtons({ what, pending, stale, onTry, onRepair }: Props) {
  return (
    <>
      <Button size="small" disabled={stale} title="What it would do to all test poses; nothing is changed yet" onClick={onTry}>
        Try{what}
      </Button>
      <Button size="small" disabled={stale} loading={pending} title="Measured first: where it makes something worse, that is said before it is done" onClick={onRepair}>
        Repair{what}
      </Button>
    </>
  )
}
