import { Button } from 'antd'

interface Props {
  title: string
  text: string
  pending: boolean
  onLook: () => void
  /** Left out where nothing repairs it. */
  onRepair?: () => void
}

/** Something that is wrong: what and why, a way to see it, and a way to put it right. */
export function FindingCard({ title, text, pending, onLook, onRepair }: Props) {
  return (
    <div className="finding">
      <b>{title}</b>
      <p>{text}</p>
      <div className="row">
        <Button size="small" onClick={onLook}>
          Look
        </Button>
        {onRepair && (
          <Button size="small" loading={pending} onClick={onRepair}>
            Put it right
          </Button>
        )}
      </div>
    </div>
  )
}
