import { useRef } from 'react'
import { CurveDots } from './CurveDots'
import { added, type CurveEditing } from './plane'

interface Props extends CurveEditing {
  label: string
  size: { width: number; height: number }
  /** What lies under the keys. */
  children: React.ReactNode
}

/** A curve as a picture: keys are dragged, a double click adds one. */
export function CurvePicture({ label, size, children, ...editing }: Props) {
  const { keys, plane, onSet } = editing
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
      <CurveDots svg={svg} {...editing} />
    </svg>
  )
}
