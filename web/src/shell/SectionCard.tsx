import { Slider } from 'antd'
import type { ReactNode } from 'react'
import { useBench } from '../state/bench'

interface Props {
  title: string
  /** What the section is, said before it is open. */
  what: string
  /** Where in its travel it lies, 0 to 1, between the two `ends`. */
  place: number
  onPlace: (place: number) => void
  ends: readonly [string, string]
  slider: string
  picture: ReactNode
  said: ReactNode
}

/** A flat cut through the head in the pose on the stage: a button until it is open, then a picture whose place a slider moves. */
export function SectionCard({ title, what, place, onPlace, ends, slider, picture, said }: Props) {
  const open = useBench((s) => s.cutOpen)
  const set = useBench((s) => s.set)
  const trying = useBench((s) => s.trial !== null)
  if (!open)
    return (
      <button className="chip section-open" title={what} onClick={() => set({ cutOpen: true })}>
        Section
      </button>
    )
  if (!picture) return null
  return (
    <section className="card section" aria-label="Section">
      <div className="panel-head">
        <b>
          {title} {trying && <span className="quiet">as it is now</span>}
        </b>
        <button className="bare" aria-label="Close the section" onClick={() => set({ cutOpen: false })}>
          ×
        </button>
      </div>
      {picture}
      <div className="cut-slider">
        <span className="quiet">{ends[0]}</span>
        <Slider min={0} max={100} value={Math.round(place * 100)} onChange={(v) => onPlace(v / 100)} tooltip={{ open: false }} ariaLabelForHandle={slider} />
        <span className="quiet">{ends[1]}</span>
      </div>
      {said}
    </section>
  )
}
