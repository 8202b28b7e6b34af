import { App } from 'antd'
import { useState } from 'react'
import { sendTry, type CharacterOut, type Finding, type Repair, type Station, type Step, type Tried } from '../api/client'
import { useBench } from '../state/bench'
import { useStroke } from '../state/edits'
import { useStationFindings } from '../state/findings'
import { FindingCard } from './FindingCard'
import { TriedOut, type OwnPose } from './TriedOut'

interface Props {
  character: CharacterOut
  station: Station
  label: string
  /** What is said where nothing is wrong. */
  fine: string
  onLook: (finding: Finding) => void
}

/** What is wrong, each with its place and, where there is one, its repair. After an edit it is out of date until it has been measured anew. */
export function FindingList({ character, station, label, fine, onLook }: Props) {
  const { message } = App.useApp()
  const { data, error, isPlaceholderData: stale } = useStationFindings(character, station)
  const repairing = useStroke(character)
  const [tried, setTried] = useState<{ key: string; revision: number; out: Tried; own: OwnPose } | null>(null)
  const [trying, setTrying] = useState<string | null>(null)
  const revision = character.revision.number
  if (error) return <p className="madder">{error.message}</p>
  if (!data) return null
  if (!data.length)
    return (
      <p className="quiet" role="status" aria-label={label}>
        <span className="sign" /> {stale ? 'Measuring again …' : fine}
      </p>
    )
  const repair = (r: Repair) => !repairing.isPending && repairing.mutate({ step: stepOf(r), on: revision })
  /** Measured before it is done; one that harms nothing is done at once where that was asked for, of any other it is said first what it does. */
  const tryOut = async (key: string, finding: Finding, r: Repair, then: 'show' | 'repair') => {
    if (trying) return
    const { values, pose, strength } = useBench.getState()
    const own = tried?.own ?? { values, pose, strength }
    setTrying(key)
    try {
      const out = await sendTry(character.id, revision, stepOf(r))
      if (then === 'repair' && !out.harms) return repair(r)
      onLook(finding)
      setTried({ key, revision, out, own })
    } catch (refused) {
      void message.error((refused as Error).message)
    } finally {
      setTrying(null)
    }
  }
  return (
    <section aria-label={label} className={stale ? 'stale' : undefined}>
      {stale && (
        <p className="quiet" role="status">
          Measuring again: what follows was found before the last edit.
        </p>
      )}
      {data.map((f, k) => {
        const key = `${f.kind} ${f.about} ${k}`
        const r = f.repairs?.[0]
        const open = tried?.key === key && tried.revision === revision && !stale ? tried : null
        return (
          <FindingCard
            key={key}
            title={f.title}
            text={f.text}
            repair={r?.text}
            pending={repairing.isPending || trying === key}
            stale={stale || (trying !== null && trying !== key)}
            onLook={() => onLook(f)}
            onRepair={r && (() => void tryOut(key, f, r, 'repair'))}
            onTry={r && (() => void tryOut(key, f, r, 'show'))}
          >
            {open && r && <TriedOut tried={open.out} own={open.own} pending={repairing.isPending} onAccept={() => repair(r)} onLeave={() => setTried(null)} />}
          </FindingCard>
        )
      })}
    </section>
  )
}

const stepOf = ({ edit, params }: Repair) => ({ edit, params }) as Step
