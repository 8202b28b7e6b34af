import { useEffect, useRef } from 'react'
import type { CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import type { StageEngine } from '../engine'
import { channelsOf, Handle, type Channel } from './handle'

interface Props {
  engine: StageEngine | null
  character: CharacterOut
}

/** Rings to turn and arrows to move the picked bone by, within its limits. */
export function BoneHandle({ engine, character }: Props) {
  const name = useBench((s) => s.bone)
  const drag = useBench((s) => s.drag)
  const layer = useRef<SVGSVGElement>(null)
  const row = character.bones.findIndex((b) => b.name === name)
  const bone = character.bones[row]
  const channels = bone ? channelsOf(bone) : []
  const going = useRef<{ channel: Channel; handle: Handle; from: { x: number; y: number }; value: number } | null>(null)

  useEffect(() => {
    if (!engine || row < 0) return
    return engine.watch(() => {
      const ready = engine.handles !== null && engine.handles.length >= (row + 1) * 18
      layer.current?.toggleAttribute('hidden', !ready)
      if (!ready) return
      const handle = new Handle(engine, row)
      layer.current?.querySelectorAll<SVGGElement>('g[data-channel]').forEach((g) => place(g, handle, channels[Number(g.dataset.channel)]!))
    })
  })
  if (!engine || !bone) return null
  const at = (e: React.PointerEvent) => {
    const box = layer.current!.getBoundingClientRect()
    return { x: e.clientX - box.left, y: e.clientY - box.top }
  }
  const pull = (e: React.PointerEvent) => {
    const g = going.current
    if (!g) return
    const value = g.value + g.handle.travelled(g.channel, g.from, at(e))
    drag(g.channel.name, Math.min(g.channel.high, Math.max(g.channel.low, value)))
  }
  return (
    <svg ref={layer} className="bone-handle" aria-label={`Handle of ${bone.label}`} role="group">
      {channels.map((channel, k) => (
        <g
          key={channel.name}
          data-channel={k}
          data-name={channel.name}
          className={`axis-${channel.axis}`}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId)
            going.current = { channel, handle: new Handle(engine, row), from: at(e), value: useBench.getState().values[channel.name] ?? 0 }
          }}
          onPointerMove={pull}
          onPointerUp={(e) => {
            pull(e)
            going.current = null
          }}
        >
          <path className="back" />
          <path className="front" />
          <path className="grip" />
          <text className="num">{channel.axis}</text>
        </g>
      ))}
    </svg>
  )
}

function place(g: SVGGElement, handle: Handle, channel: Channel) {
  const [back, front, grip, letter] = [...g.children] as SVGElement[]
  if (channel.kind === 'turn') {
    const ring = handle.ring(channel)
    back!.setAttribute('d', ring.back)
    front!.setAttribute('d', ring.front)
    grip!.setAttribute('d', ring.front)
    letter!.setAttribute('transform', ring.tip ? `translate(${ring.tip.x} ${ring.tip.y})` : 'translate(-99 -99)')
    return
  }
  const ends = handle.arrow(channel)
  const line = ends ? `M${ends.from.x} ${ends.from.y}L${ends.to.x} ${ends.to.y}` : ''
  const [dx, dy] = ends ? [ends.to.x - ends.from.x, ends.to.y - ends.from.y] : [0, 0]
  const long = Math.hypot(dx, dy)
  // an arrow that points at the camera has no length to be dragged along
  g.toggleAttribute('data-short', long < 14)
  front!.setAttribute('d', line)
  grip!.setAttribute('d', ends && long > 14 ? `M${ends.from.x + dx * 0.75} ${ends.from.y + dy * 0.75}L${ends.to.x} ${ends.to.y}` : '')
  letter!.setAttribute('transform', ends && long > 14 ? `translate(${ends.to.x} ${ends.to.y})` : 'translate(-99 -99)')
}
