import { useEffect, useRef, useState } from 'react'
import type { CharacterOut, CurveKey, EyeLids, GazeFollow } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import type { Tried } from '../../state/lidBoard'

type Side = EyeLids['side']
type Drawn = { line: CurveKey[]; follow: null } | { line: null; follow: { lid: 'upper' | 'lower'; curves: GazeFollow } }

/** Which curve of which eye something is drawn on. */
const curveOf = (side: Side, drawn: Drawn) => `${side} ${drawn.follow?.lid ?? 'line'}`

/** Curves of an eye that are drawn: shown at once, stored one after the other. Of several changes to a curve that wait only the last is sent. */
export function useLidCurves(character: CharacterOut, side: Side, edit: ReturnType<typeof useEdit>) {
  const mirror = useBench((s) => s.mirror)
  const [drawing, setDrawing] = useState<{ revision: number; drawn: Drawn } | null>(null)
  const draw = (next: Drawn) => setDrawing({ revision: character.revision.number, drawn: next })
  const waiting = useRef(new Map<string, { side: Side; drawn: Drawn }>())
  const send = (to: Side, drawn: Drawn) =>
    edit.mutate(
      drawn.line
        ? { edit: 'lids.set_line', params: { side: to, keys: drawn.line, mirror } }
        : { edit: 'lids.set_follow', params: { side: to, lid: drawn.follow!.lid, follow: drawn.follow!.curves, mirror } },
      { onError: () => setDrawing(null) },
    )
  useEffect(() => {
    const [next] = waiting.current.values()
    if (edit.isPending || !next) return
    if (edit.isError) return waiting.current.clear()
    waiting.current.delete(curveOf(next.side, next.drawn))
    draw(next.drawn) // on the revision that came in between
    send(next.side, next.drawn)
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [edit.isPending, character.revision.number])
  // what was drawn on a revision is shown until the next one has it
  const drawn = drawing?.revision === character.revision.number ? drawing.drawn : null
  const stored = drawing && drawing.revision === character.revision.parent ? drawing.drawn : null
  const set = (next: Drawn) => {
    draw(next)
    if (edit.isPending) waiting.current.set(curveOf(side, next), { side, drawn: next })
    else send(side, next)
  }
  const tried: Tried = {
    line: drawn?.line ? { side, keys: drawn.line, mirror } : null,
    follow: drawn?.follow ? { side, lid: drawn.follow.lid, follow: drawn.follow.curves, mirror } : null,
  }
  return { drawn, stored, draw, set, tried, forget: () => setDrawing(null) }
}
