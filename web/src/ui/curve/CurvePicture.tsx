import { useRef } from 'react'
import type { CurveKey } from '../../api/client'
import { CurveDots } from './CurveDots'
import { added, type CurvePlane } from './plane'

interface Props {
  label: string
  size: { width: number; height: number }
  keys: CurveKey[]
  picked: number
  plane: CurvePlane
  onPick: (k: number) => void
  /** While something is dragged. */
  onDraw: (keys: CurveKey[]) => void
  onSet: (keys: CurveKey[]) => void
  /** What lies under the keys. */
  children: React.ReactNode
}

/** A curve as a picture: keys are dragged, a double click adds one. */
export function CurvePicture({ label, size, keys, picked, plane, onPick, onDraw, onSet, children }: Props) {
  const svg = useRef<SVGSVGElement>(null)
  return (
    <svg
      ref={svg}
      {...size}
      className="sweep"
      role="group"
      aria-label={label}
      onDoubleClick={(e) => {
        const box = svg.current!.getBoundingClientRect()
        const more = added(keys, ...plane.place(e.clientX - box.left, e.clientY - box.top), plane)
        if (more) onSet(more)
      }}
    >
      {children}
      <CurveDots svg={svg} keys={keys} picked={picked} plane={plane} onPick={onPick} onDraw={onDraw} onSet={onSet} />
    </svg>
  )
}
