import { useQueryClient } from '@tanstack/react-query'
import { App, Button, Modal, Progress } from 'antd'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router-dom'
import { chosenFiles, takeIn, type Delivered, type Going, type TakenIn } from '../api/imports'
import { useDropped } from '../state/dropped'
import { tokens } from '../theme/tokens'

const ENDINGS = '.obj,.mtl,.glb,.gltf,.bin,.usd,.usda,.usdc,.usdz,.zip,.seam'

interface Busy extends Going {
  name: string
  stop: () => void
}

/** Where heads come in: one file, several that belong together, a folder or a zip, let go anywhere or chosen here. */
export function TakeIn({ empty }: { empty: boolean }) {
  const { message } = App.useApp()
  const queries = useQueryClient()
  const files = useRef<HTMLInputElement>(null)
  const folder = useRef<HTMLInputElement>(null)
  const [busy, setBusy] = useState<Busy | null>(null)
  const [taken, setTaken] = useState<TakenIn | null>(null)

  const take = async (delivered: Delivered[]) => {
    if (!delivered.length) return
    const name = delivered.length === 1 ? delivered[0]!.file.name : `${delivered.length} files`
    const stop = new AbortController()
    setBusy({ name, share: 0, text: 'Sending', stop: () => stop.abort() })
    try {
      setTaken(await takeIn(delivered, (now) => setBusy((before) => before && { ...before, ...now }), stop.signal))
    } catch (error) {
      const said = stop.signal.aborted ? 'Stopped. Nothing was stored.' : (error as Error).message
      void message.error(said.startsWith(name) ? said : `${name}: ${said}`, 8)
    }
    setBusy(null)
    void queries.invalidateQueries({ queryKey: ['shelf'] })
  }
  const { waiting, clear } = useDropped()
  const line = useRef(Promise.resolve()) // one head after the other
  useEffect(() => {
    if (!waiting.length) return
    clear()
    for (const files of waiting) line.current = line.current.then(() => take(files))
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [waiting])
  const dialog = (input: React.RefObject<HTMLInputElement | null>, label: string, whole: boolean) => (
    <input
      ref={(element) => {
        input.current = element
        element?.toggleAttribute('webkitdirectory', whole)
      }}
      type="file"
      multiple
      accept={whole ? undefined : ENDINGS}
      hidden
      aria-label={label}
      onChange={(e) => {
        const chosen = chosenFiles(e.target.files)
        e.target.value = ''
        void take(chosen)
      }}
    />
  )
  return (
    <div className="drop-wrap">
      {busy ? (
        <div className="drop" role="status">
          <b>Adding {busy.name}</b>
          <Progress percent={Math.round(busy.share * 100)} strokeColor={tokens.spruce} size="small" />
          <span className="quiet">{busy.text}</span>
          <Button size="small" onClick={busy.stop}>
            Stop
          </Button>
        </div>
      ) : (
        <button className="drop" onClick={() => files.current?.click()}>
          <svg width="34" height="40" viewBox="0 0 34 40" fill="none" aria-hidden>
            <ellipse cx="17" cy="20" rx="15" ry="18" stroke="var(--spruce)" strokeWidth="1.6" strokeDasharray="6 4" />
            <path d="M17 13v14M10 20h14" stroke="var(--saffron)" strokeWidth="2.4" strokeLinecap="round" />
          </svg>
          <b>{empty ? 'Drop your first head here' : 'Add a head'}</b>
          <span className="quiet">
            OBJ, GLB or glTF, USD, a zip or a folder of them, or a character file. Files dropped together become one character. Click to choose.
          </span>
        </button>
      )}
      {!busy && (
        <Button size="small" type="text" onClick={() => folder.current?.click()}>
          Choose a folder
        </Button>
      )}
      {dialog(files, 'Files to add', false)}
      {dialog(folder, 'Folder to add', true)}
      <Arrived taken={taken} onClose={() => setTaken(null)} />
    </div>
  )
}

/** What the rigger should know about how a head came. */
function Arrived({ taken, onClose }: { taken: TakenIn | null; onClose: () => void }) {
  const navigate = useNavigate()
  return (
    <Modal
      open={taken !== null}
      transitionName="" // its buttons stand still: a click on one that still grows lands beside it, and closes the card
      title={taken && `${taken.name} is on the shelf`}
      onCancel={onClose}
      okText="Check it in"
      cancelText="Stay here"
      onOk={() => taken && navigate(`/characters/${taken.character}/checkin`)}
    >
      {taken?.notes.length ? (
        <ul className="arrived">
          {taken.notes.map((note) => (
            <li key={note}>{note}</li>
          ))}
        </ul>
      ) : (
        <p className="quiet">It came as it was sent; nothing had to be changed.</p>
      )}
    </Modal>
  )
}
