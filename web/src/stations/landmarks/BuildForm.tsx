import { Button, Checkbox, InputNumber, Segmented } from 'antd'
import { useState } from 'react'
import type { CharacterOut, Skeleton } from '../../api/client'
import type { useEdit } from '../../state/edits'

const FIRST: Skeleton = { face: 'shapes', neck: 2, tongue: 3, brows: 3, lids: 3, lips: 5, cheeks: true, nose: true, ears: false }
const FACES: { value: Skeleton['face']; label: string }[] = [
  { value: 'shapes', label: 'Shapes' },
  { value: 'bones', label: 'Bones' },
  { value: 'both', label: 'Both' },
]
const COUNTS: { key: 'neck' | 'tongue' | 'brows' | 'lids' | 'lips'; label: string; low: number; high: number; face: boolean }[] = [
  { key: 'neck', label: 'Neck', low: 1, high: 4, face: false },
  { key: 'tongue', label: 'Tongue', low: 0, high: 8, face: false },
  { key: 'brows', label: 'A brow', low: 0, high: 5, face: true },
  { key: 'lids', label: 'A lid', low: 0, high: 7, face: true },
  { key: 'lips', label: 'A lip', low: 0, high: 9, face: true },
]
const PARTS: { key: 'cheeks' | 'nose' | 'ears'; label: string; face: boolean }[] = [
  { key: 'cheeks', label: 'Cheeks', face: true },
  { key: 'nose', label: 'Nose', face: true },
  { key: 'ears', label: 'Ears', face: false },
]

interface Props {
  character: CharacterOut
  edit: ReturnType<typeof useEdit>
  /** Are all landmarks placed? */
  placed: boolean
}

/** Which bones are built from the landmarks. What stays keeps its weights, limits and role. */
export function BuildForm({ character, edit, placed }: Props) {
  const built = character.bones.length > 0
  const [choices, setChoices] = useState<Skeleton>(character.skeleton ?? FIRST)
  const [bind, setBind] = useState(true)
  const [open, setOpen] = useState(!built)
  const byBones = choices.face !== 'shapes'
  const change = (changes: Partial<Skeleton>) => setChoices({ ...choices, ...changes })
  const bare = character.shapes.length === 0 && character.controls.length === 0
  return (
    <section aria-label="Build bones">
      {!built && <p className="quiet">Bones stand where the landmarks say, and follow when a landmark is moved.</p>}
      {built && (
        <button className="bare fold" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? '▾' : '▸'} What is built
        </button>
      )}
      {open && (
        <>
          <div className="build-row">
            <span>The face is moved by</span>
            <Segmented
              size="small"
              aria-label="The face is moved by"
              value={choices.face}
              options={FACES}
              onChange={(face) => change({ face })}
            />
          </div>
          <h3>How many bones</h3>
          <div className="build-counts">
            {COUNTS.map(({ key, label, low, high, face }) => (
              <label key={key} className={face && !byBones ? 'off' : ''}>
                {label}
                <InputNumber size="small" aria-label={`Bones: ${label}`} min={low} max={high} value={choices[key]} disabled={face && !byBones} onChange={(n) => change({ [key]: n ?? low })} />
              </label>
            ))}
          </div>
          <div className="row bone-shows">
            {PARTS.map(({ key, label, face }) => (
              <Checkbox key={key} checked={choices[key]} disabled={face && !byBones} onChange={(e) => change({ [key]: e.target.checked })}>
                {label}
              </Checkbox>
            ))}
          </div>
          <Checkbox checked={bind} onChange={(e) => setBind(e.target.checked)}>
            Bind parts that have no carrier
          </Checkbox>
          <div className="row" style={{ marginTop: 8 }}>
            <Button
              type={built ? 'default' : 'primary'}
              loading={edit.isPending}
              onClick={() => edit.mutate({ edit: 'bones.build', params: { choices, bind } }, { onSuccess: () => setOpen(false) })}
            >
              {built ? 'Rebuild bones' : 'Build bones'}
            </Button>
            {bare && (
              <Button title="Bones, carriers, weights, lids, a first set of shapes, controls, seams and test poses" loading={edit.isPending} onClick={() => edit.mutate({ edit: 'rig.start', params: { choices } })}>
                Set up a first rig
              </Button>
            )}
          </div>
          {!placed && <p className="attention">Some landmarks are missing. What needs them cannot be built; place them first.</p>}
        </>
      )}
    </section>
  )
}
