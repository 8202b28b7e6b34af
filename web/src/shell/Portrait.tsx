import { useEffect, useRef, useState } from 'react'
import { fetchCharacter, type ShelfEntry } from '../api/client'
import { fetchFrame, fetchMeshes } from '../api/frames'
import { fetchShading } from '../api/shading'
import { StageEngine } from '../stage/engine'
import { viewOf } from '../stage/views'

const SIZE = { width: 572, height: 636 }
const kept = new Map<string, string>()

/** The character's picture, drawn once a revision by a stage of its own. */
export function Portrait({ entry }: { entry: ShelfEntry }) {
  const key = `${entry.id} ${entry.revision.number}`
  const [shown, setShown] = useState(kept.get(key))
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    if (kept.has(key) || !canvas.current) return
    const engine = new StageEngine(canvas.current)
    engine.resize()
    let gone = false
    const draw = async () => {
      const revision = entry.revision.number
      const [character, meshes] = await Promise.all([fetchCharacter(entry.id), fetchMeshes(entry.id, revision)])
      const frame = await fetchFrame(entry.id, { revision, values: {}, overdrive: false, smooth: true, weights_of: null, known: {} })
      if (gone) return
      engine.load(meshes)
      engine.show({ wires: () => false, colours: 'nothing', bones: false, glass: () => false, dark: false, visible: () => true })
      engine.apply(frame, true)
      const view = viewOf('portrait', character)
      setShown(engine.picture(view, SIZE))
      engine.shade(await fetchShading(entry.id, revision)) // the light comes second: nobody waits for it
      if (gone) return
      const made = engine.picture(view, SIZE)
      kept.set(key, made)
      setShown(made)
    }
    draw().catch(() => undefined)
    return () => {
      gone = true
      engine.dispose()
    }
  }, [entry, key])
  return (
    <div className="portrait">
      {shown && <img src={shown} alt={`Portrait of ${entry.name}`} />}
      {!kept.has(key) && <canvas ref={canvas} style={{ ...SIZE, visibility: 'hidden', position: 'absolute' }} />}
    </div>
  )
}
