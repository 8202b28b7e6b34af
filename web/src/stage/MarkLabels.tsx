import { useEffect, useRef } from 'react'
import type { Check } from '../api/client'
import type { StageEngine } from './engine'

const NO_MARKS: never[] = []

/** Words written beside marked vertices, such as the valence of a pole. */
export function MarkLabels({ engine, check }: { engine: StageEngine | null; check: Check | null }) {
  const marks = check?.marks ?? NO_MARKS
  const layer = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (!engine) return
    return engine.watch(() => {
      marks.forEach((mark, k) => {
        const label = layer.current?.children[k] as HTMLElement | undefined
        const at = engine.projectVertex(mark)
        if (!label) return
        label.hidden = at === null
        if (at) label.style.transform = `translate(${at.x + 7}px, ${at.y - 20}px)`
      })
    })
  }, [engine, marks])
  return (
    <div ref={layer} className="mark-labels" aria-hidden>
      {marks.map((mark) => (
        <span key={`${mark.part} ${mark.vertex}`} className={`num ${check?.verdict === 'fine' ? 'fine' : ''}`}>
          {mark.text}
        </span>
      ))}
    </div>
  )
}
