import { Button, Popover } from 'antd'
import type { CharacterOut } from '../api/client'
import { useBench } from '../state/bench'
import { AtWork } from './AtWork'
import { Export } from './Export'
import { SurroundingsSwitch } from './SurroundingsSwitch'

interface Props {
  character: CharacterOut
  onUndo: () => void
  onRedo: () => void
}

/** Who is on the bench, at which revision; undo, redo; what is going on; files out. */
export function TopBar({ character, onUndo, onRedo }: Props) {
  const measured = useBench((s) => s.measured)
  const set = useBench((s) => s.set)
  const poses = character.poses.length
  return (
    <div className="top">
      <h1 style={{ fontSize: 15 }}>{character.name}</h1>
      <span className="quiet story">{character.story}</span>
      <Popover trigger="click" placement="bottomLeft" content={<Revisions character={character} />}>
        <button className="bare pill num" title="History">
          rev {character.revision.number} · {character.revision.text}
        </button>
      </Popover>
      <Button size="small" aria-label="Undo" title="Undo (Ctrl+Z)" disabled={!character.can_undo} onClick={onUndo}>
        ↶
      </Button>
      <Button size="small" aria-label="Redo" title="Redo (Ctrl+Shift+Z)" disabled={!character.can_redo} onClick={onRedo}>
        ↷
      </Button>
      <Pin character={character} />
      <span className="gap" />
      <AtWork />
      <span className="pill" role="status" data-measured={measured >= poses}>
        {poses === 0 ? (
          character.bones.length ? 'no test poses yet' : 'nothing to pose yet'
        ) : measured < poses ? (
          <>
            measuring poses{' '}
            <span className="num quiet">
              {measured}/{poses}
            </span>
          </>
        ) : (
          <>
            <span className="num">{poses}</span> poses measured
          </>
        )}
      </span>
      <Export character={character} />
      <SurroundingsSwitch />
      <Button size="small" aria-label="Keys" onClick={() => set({ keysOpen: true })}>
        ?
      </Button>
    </div>
  )
}

/** Pins the revision that is seen, to compare what comes after with it. */
function Pin({ character }: { character: CharacterOut }) {
  const pin = useBench((s) => s.pin)
  const comparing = useBench((s) => s.comparing)
  const set = useBench((s) => s.set)
  const { number, text } = character.revision
  if (!pin)
    return (
      <Button size="small" title="Keep this revision to compare with (C)" onClick={() => set({ pin: { number, text } })}>
        Pin
      </Button>
    )
  return (
    <span className="pinned" role="group" aria-label="Pinned revision">
      <Button size="small" type={comparing ? 'primary' : 'default'} aria-pressed={comparing} title={`Compare with rev ${pin.number}: ${pin.text} (C)`} onClick={() => set({ comparing: !comparing })}>
        Compare with rev {pin.number}
      </Button>
      <Button size="small" type="text" aria-label="Take the pin out" title="Take the pin out" onClick={() => set({ pin: null, comparing: false, tint: useBench.getState().tint === 'pin' ? null : useBench.getState().tint })}>
        ✕
      </Button>
    </span>
  )
}

function Revisions({ character }: { character: CharacterOut }) {
  return (
    <ol className="plain-list" style={{ maxHeight: 320, overflowY: 'auto', maxWidth: 380 }}>
      {character.history.map((r) => (
        <li key={r.number} style={{ padding: '2px 0', fontWeight: r.number === character.revision.number ? 650 : 400 }}>
          <span className="num quiet">{r.number}</span> {r.text}
          {r.parent != null && r.parent !== r.number - 1 && <span className="quiet num"> from {r.parent}</span>}
        </li>
      ))}
    </ol>
  )
}
