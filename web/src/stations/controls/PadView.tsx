import { useRef, type RefObject } from 'react'
import type { Control } from '../../api/client'

const HALF = 13 // px that a pad reaches from its middle
const KNOB = 5

interface Props {
  svg: RefObject<SVGSVGElement | null>
  size: number
  label: string
  x: Control | null
  y: Control | null
  place: [number, number]
  values: Record<string, number>
  chosen: boolean
  arranging: boolean
  onChoose: () => void
  onValues: (values: Record<string, number>) => void
  onMove: (place: [number, number]) => void
  onDrop: (place: [number, number]) => void
}

const share = (control: Control | null, values: Record<string, number>) => (control ? ((values[control.name] ?? control.rest) - control.low) / (control.high - control.low) : 0.5)
const within = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v))

/** One pad: a field for two controls, a track for one; its knob is where they are. Arrow keys move it by a twentieth. */
export function PadView({ svg, size, label, x, y, place, values, chosen, arranging, onChoose, onValues, onMove, onDrop }: Props) {
  const held = useRef(false)
  const [u, v] = [place[0] * size, place[1] * size]
  const knob = { x: u + (share(x, values) * 2 - 1) * HALF * (x ? 1 : 0), y: v - (share(y, values) * 2 - 1) * HALF * (y ? 1 : 0) }
  const at = (e: React.PointerEvent): [number, number] => {
    const box = svg.current!.getBoundingClientRect()
    return [e.clientX - box.left, e.clientY - box.top]
  }
  const valued = (px: number, py: number) => {
    const of = (control: Control | null, part: number) => (control ? { [control.name]: control.low + within(part, 0, 1) * (control.high - control.low) } : {})
    onValues({ ...of(x, (px - u) / (2 * HALF) + 0.5), ...of(y, (v - py) / (2 * HALF) + 0.5) })
  }
  const placed = ([px, py]: [number, number]): [number, number] => [within(px / size, 0.02, 0.98), within(py / size, 0.02, 0.98)]
  const step = (control: Control | null, by: number) => control && onValues({ [control.name]: within((values[control.name] ?? control.rest) + (by * (control.high - control.low)) / 20, control.low, control.high) })
  const wide = x ? HALF : 3
  const tall = y ? HALF : 3
  return (
    <g
      className="pad"
      role="button"
      tabIndex={0}
      aria-label={label}
      aria-pressed={chosen}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        held.current = true
        onChoose()
      }}
      onPointerMove={(e) => {
        if (!held.current) return
        if (arranging) onMove(placed(at(e)))
        else valued(...at(e))
      }}
      onPointerUp={(e) => {
        if (held.current && arranging) onDrop(placed(at(e)))
        held.current = false
      }}
      onDoubleClick={() => !arranging && onValues(Object.fromEntries([x, y].flatMap((c) => (c ? [[c.name, c.rest]] : []))))}
      onFocus={onChoose}
      onKeyDown={(e) => {
        const moves: Record<string, [Control | null, number]> = { ArrowLeft: [x, -1], ArrowRight: [x, 1], ArrowUp: [y ?? x, 1], ArrowDown: [y ?? x, -1] }
        const move = moves[e.key]
        if (!move) return
        step(...move)
        e.preventDefault()
        e.stopPropagation()
      }}
    >
      <title>{label}</title>
      <rect x={u - wide} y={v - tall} width={2 * wide} height={2 * tall} rx={3} />
      <circle cx={knob.x} cy={knob.y} r={KNOB} />
    </g>
  )
}
