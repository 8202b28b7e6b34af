import { useRef, type RefObject } from 'react'
import type { Control } from '../../api/client'

const HALF = 17 // units that a pad reaches from its middle
const TRACK = 6.5 // half of what it is wide
const KNOB = 5.5
const RISE = 8 // units that it stands above the middle of its place: its name is below
const LINE = 9 // between two lines of a name
const NAME = 12 // from a pad to its name
const LETTERS = 13 // to a line

interface Props {
  svg: RefObject<SVGSVGElement | null>
  /** Width and height of the plan, in its own units. */
  size: { width: number; height: number }
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
/** A name in at most two lines, broken between words as evenly as can be. */
export function lines(name: string): string[] {
  if (name.length <= LETTERS) return [name]
  const words = name.split(' ')
  const cuts = words.slice(1).map((_, k) => [words.slice(0, k + 1).join(' '), words.slice(k + 1).join(' ')])
  return cuts.sort((a, b) => Math.max(...a.map((l) => l.length)) - Math.max(...b.map((l) => l.length)))[0] ?? [name]
}

const within = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v))

/** One pad: a field for two controls, a track for one; its knob is where they are. Arrow keys move it by a twentieth. */
export function PadView({ svg, size, label, x, y, place, values, chosen, arranging, onChoose, onValues, onMove, onDrop }: Props) {
  const held = useRef(false)
  const [u, v] = [place[0] * size.width, place[1] * size.height - RISE]
  const knob = { x: u + (share(x, values) * 2 - 1) * HALF * (x ? 1 : 0), y: v - (share(y, values) * 2 - 1) * HALF * (y ? 1 : 0) }
  const at = (e: React.PointerEvent): [number, number] => {
    const box = svg.current!.getBoundingClientRect()
    const scale = size.width / box.width
    return [(e.clientX - box.left) * scale, (e.clientY - box.top) * scale]
  }
  const valued = (px: number, py: number) => {
    const of = (control: Control | null, part: number) => (control ? { [control.name]: control.low + within(part, 0, 1) * (control.high - control.low) } : {})
    onValues({ ...of(x, (px - u) / (2 * HALF) + 0.5), ...of(y, (v - py) / (2 * HALF) + 0.5) })
  }
  const placed = ([px, py]: [number, number]): [number, number] => [within(px / size.width, 0.02, 0.98), within((py + RISE) / size.height, 0.02, 0.98)]
  const step = (control: Control | null, by: number) => control && onValues({ [control.name]: within((values[control.name] ?? control.rest) + (by * (control.high - control.low)) / 20, control.low, control.high) })
  const wide = x ? HALF : TRACK
  const tall = y ? HALF : TRACK
  const below = v + tall + NAME
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
      <rect x={u - wide} y={v - tall} width={2 * wide} height={2 * tall} rx={TRACK} />
      {x && y && <path className="cross" d={`M${u - wide + 4} ${v}H${u + wide - 4}M${u} ${v - tall + 4}V${v + tall - 4}`} />}
      <circle cx={knob.x} cy={knob.y} r={KNOB} />
      <text x={u} y={below} textAnchor="middle" className="pad-name">
        {lines(label).map((line, k) => (
          <tspan key={k} x={u} dy={k ? LINE : 0}>
            {line}
          </tspan>
        ))}
      </text>
    </g>
  )
}
