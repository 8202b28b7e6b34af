import { Button } from 'antd'
import type { Finding } from '../../api/client'
import { RepairButtons } from './RepairButtons'

interface Props {
  /** One, or it and its twin, the worse first. */
  findings: Finding[]
  pending: boolean
  /** Of what is no more: it is seen until the next answer comes, and does nothing. */
  stale: boolean
  onLook: (finding: Finding) => void
  hasPlace?: (finding: Finding) => boolean
  onTry: () => void
  onRepair: () => void
  children?: React.ReactNode
}

const sideOf = (title: string) => /\b[LR]\b/.exec(title)?.[0]

/** Something that is wrong: what and why, a way to see it, and a way to repair it. */
export function FindingCard({ findings, pending, stale, onLook, hasPlace = () => true, onTry, onRepair, children }: Props) {
  const [first, ...twins] = findings
  const repair = first!.repairs?.[0]?.text
  return (
    <div className="finding" aria-disabled={stale || undefined}>
      <b>{first!.title}</b>
      <p>
        {first!.text} {repair && <span className="repair">{repair}.</span>}
      </p>
      {twins.map((twin) => (
        <p key={twin.title}>
          Its twin too: {twin.text}
        </p>
      ))}
      <div className="row">
        {findings.filter(hasPlace).map((f) => (
          <Button key={f.title} size="small" disabled={stale} onClick={() => onLook(f)}>
            {twins.length ? `Look at ${sideOf(f.title) ?? 'it'}` : 'Look'}
          </Button>
        ))}
        {findings.some((f) => f.repairs?.length) && <RepairButtons what={twins.length ? ' both' : ''} pending={pending} stale={stale} onTry={onTry} onRepair={onRepair} />}
      </div>
      {children}
    </div>
  )
}
