import { Button, Progress } from 'antd'
import { useRef, useState } from 'react'
import { fetchCharacter, type CharacterOut } from '../../api/client'
import { droppedFiles, takeTargets, type Delivered, type Going, type TargetReport } from '../../api/imports'
import { useChange } from '../../state/edits'
import { tokens } from '../../theme/tokens'
import { FileInput } from '../../ui/FileInput'
import { counted } from '../../ui/names'

const ENDINGS = '.obj,.glb,.gltf,.bin,.usd,.usda,.usdc,.usdz,.zip'

/** The place to drop targets: one shape a file, a folder of them, or a file with many. Each is reported on. */
export function TakeTargets({ character }: { character: CharacterOut }) {
  const input = useRef<HTMLInputElement>(null)
  const [busy, setBusy] = useState<(Going & { stop: () => void }) | null>(null)
  const [reports, setReports] = useState<TargetReport[]>([])
  const change = useChange(character, async (files: Delivered[], head) => {
    const stop = new AbortController()
    setBusy({ share: 0, text: 'Sending', stop: () => stop.abort() })
    try {
      const { reports: said } = await takeTargets(head, files, (now) => setBusy((before) => before && { ...before, ...now }), stop.signal)
      setReports(said)
      return await fetchCharacter(head.id)
    } finally {
      setBusy(null)
    }
  })
  const take = (files: Delivered[]) => files.length > 0 && change.mutate(files)
  if (busy)
    return (
      <div className="drop" role="status">
        <Progress percent={Math.round(busy.share * 100)} strokeColor={tokens.spruce} size="small" />
        <span className="quiet">{busy.text}</span>
        <Button size="small" onClick={busy.stop}>
          Stop
        </Button>
      </div>
    )
  return (
    <>
      <button
        className="drop small"
        onClick={() => input.current?.click()}
        onDragOver={(e) => e.preventDefault()}
        onDrop={(e) => {
          e.preventDefault()
          void droppedFiles(e.dataTransfer).then(take)
        }}
      >
        <b>Drop targets here</b>
        <span className="quiet">OBJ, GLB, glTF or USD: one shape a file, named after it, or many in one. Order, offsets and strays are looked at. Click to choose.</span>
      </button>
      <FileInput input={input} label="Files of targets" multiple accept={ENDINGS} onChoose={take} />
      {reports.length > 0 && (
        <ul className="reports" aria-label="What became of the files">
          {reports.map((r) => (
            <li key={r.file} className={r.refused ? 'madder' : ''}>
              <b>{r.file}</b> {r.refused ?? (r.shapes.length === 1 ? `became ${r.shapes[0]}.` : `gave ${counted(r.shapes.length, 'shape')}.`)} <span className="quiet">{r.notes.join(' ')}</span>
            </li>
          ))}
        </ul>
      )}
    </>
  )
}
