import { Button } from 'antd'

interface Props {
  title: string
  text: string
  pending: boolean
  onLook: () => void
  /** Left out where nothing repairs it. */
  onRepair?: () => void
  /** Shows what the repair would do before it is done. */
  onTry?: () => void
  children?: React.ReactNode
}

/** Something that is wrong: what and why, a way to see it, and a way to repair it. */
export function FindingCard({ title, text, pending, onLook, onRepair, onTry, children }: Props) {
  return (
    <div className="finding">
      <b>{title}</b>
      <p>{text}</p>
      <div className="row">
        <Button size="small" onClick={onLook}>
          Look
        </Button>
        {onTry && (
          <Button size="small" title="What it would do to all test poses; nothing is changed yet" onClick={onTry}>
            Try
          </Button>
        )}
        {onRepair && (
          <Button size="small" loading={pending} onClick={onRepair}>
            Repair
          </Button>
        )}
      </div>
      {children}
    </div>
  )
}
