import { useEffect, useRef, useState } from 'react'
import { fetchCharacter, type ShelfEntry } from '../api/client'
import { fetchFrame, fetchMeshes } from '../api/frames'
import { StageEngine } from '../stage/engine'
import { viewOf } from '../stage/views'

const SIZE = { width: 600, height: 500 }
const kept = new Map<string, string>()

/** The character's picture, drawn once a revision by a stage of its own. */
export function Portrait({ entry }: { entry: ShelfEntry }) {
  const key = `${entry.id} ${entry.revision.number}`
  const [picture, setPicture] = useState(kept.get(key))
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    if (picture || !canvas.current) return
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
      const view = viewOf('three-quarter', character)
      const made = engine.picture({ ...view, distance: view.distance * 0.92 }, SIZE)
      kept.set(key, made)
      setPicture(made)
    }
    draw().catch(() => undefined)
    return () => {
      gone = true
      engine.dispose()
    }
  }, [entry, key, picture])
  return (
    <div className="portrait">
      {picture ? <img src={picture} alt={`Portrait of ${entry.name}`} /> : <canvas ref={canvas} style={{ ...SIZE, visibility: 'hidden' }} />}
    </div>
  )
}
