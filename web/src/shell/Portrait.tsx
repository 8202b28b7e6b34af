import { useEffect, useRef, useState } from 'react'
import { fetchCharacter, type ShelfEntry } from '../api/client'
import { fetchFrame, fetchMeshes } from '../api/frames'
import { fetchShading } from '../api/shading'
import type { StageEngine } from '../stage/engine'
import { keepPicture, keptPictures, pictureKeyOf } from '../stage/keptPictures'
import { viewOf } from '../stage/views'

const SIZE = { width: 572, height: 636 }

interface Pictured {
  key: string
  /** None where it must be drawn first. */
  picture: string | null
}

/** The character's picture, drawn by a stage of its own where this browser has not drawn it before. */
export function Portrait({ entry }: { entry: ShelfEntry }) {
  const key = pictureKeyOf(entry.drawn, 'portrait')
  const [found, setFound] = useState<Pictured | null>(null)
  const now = found?.key === key ? found : null
  useEffect(() => {
    let gone = false
    void keptPictures([key]).then(([picture]) => !gone && setFound({ key, picture: picture ?? null }))
    return () => {
      gone = true
    }
  }, [key])
  return (
    <div className="portrait">
      {now?.picture && <img src={now.picture} alt={`Portrait of ${entry.name}`} />}
      {now && !now.picture && <Drawn key={key} entry={entry} pictureKey={key} />}
    </div>
  )
}

function Drawn({ entry, pictureKey }: { entry: ShelfEntry; pictureKey: string }) {
  const [shown, setShown] = useState<string>()
  const [done, setDone] = useState(false)
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    let gone = false
    let engine: StageEngine | undefined
    const draw = async () => {
      const revision = entry.revision.number
      const [character, meshes, stage] = await Promise.all([fetchCharacter(entry.id), fetchMeshes(entry.id, revision), import('../stage/engine')])
      const frame = await fetchFrame(entry.id, { revision, values: {}, overdrive: false, smooth: true, weights_of: null, known: {} })
      if (gone || !canvas.current) return
      engine = new stage.StageEngine(canvas.current)
      engine.resize()
      engine.load(meshes)
      engine.show({ wires: () => false, colours: 'nothing', bones: false, glass: () => false, dark: false, visible: () => true })
      engine.apply(frame, true)
      const view = viewOf('portrait', character)
      setShown(engine.picture(view, SIZE))
      engine.shade(await fetchShading(entry.id, revision)) // the light comes second: nobody waits for it
      if (gone) return
      const made = engine.picture(view, SIZE)
      void keepPicture(pictureKey, made)
      setShown(made)
      setDone(true)
    }
    draw().catch(() => undefined)
    return () => {
      gone = true
      engine?.dispose()
    }
  }, [entry, pictureKey])
  return (
    <>
      {shown && <img src={shown} alt={`Portrait of ${entry.name}`} />}
      {!done && <canvas ref={canvas} style={{ ...SIZE, visibility: 'hidden', position: 'absolute' }} />}
    </>
  )
}
