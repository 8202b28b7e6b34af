import { Button } from 'antd'

interface Props {
  title: string
  text: string
  /** What would put it right, in words. */
  repair?: string
  pending: boolean
  /** Of what is no more: it is seen until the next answer comes, and does nothing. */
  stale?: boolean
  onLook: () => void
  /** Left out where nothing repairs it. */
  onRepair?: () => void
  /** Shows what the repair would do before it is done. */
  onTry?: () => void
  children?: React.ReactNode
}

/** Something that is wrong: what and why, a way to see it, and a way to repair it. */
export function FindingCard({ title, text, repair, pending, stale, onLook, onRepair, onTry, children }: Props) {
  return (
    <div className="finding" aria-disabled={stale || undefined}>
      <b>{title}</b>
      <p>
        {text} {repair && <span className="repair">{repair}.</span>}
      </p>
      <div className="row">
        <Button size="small" disabled={stale} onClick={onLook}>
          Look
        </Button>
        {onTry && (
          <Button size="small" disabled={stale} title="What it would do to all test poses; nothing is changed yet" onClick={onTry}>
            Try
          </Button>
        )}
        {onRepair && (
          <Button size="small" disabled={stale} loading={pending} title="Measured first: where it makes something worse, that is said before it is done" onClick={onRepair}>
            Repair
          </Button>
        )}
      </div>
      {children}
    </div>
  )
}
