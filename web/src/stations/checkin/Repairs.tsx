import { useMutation } from '@tanstack/react-query'
import { App, Button } from 'antd'
import { useEffect } from 'react'
import { fetchPreview, type CharacterOut, type Check, type PreviewOut, type Step } from '../../api/client'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { counted, mm, partLabel } from '../../ui/names'

type Repair = NonNullable<Check['repairs']>[number]

const stepOf = (repair: Repair) => ({ edit: repair.edit, params: repair.params }) as Step

/** Repairs of a check: first what one would do, then the doing. */
export function Repairs({ character, check }: { character: CharacterOut; check: Check }) {
  const { message } = App.useApp()
  const preview = useBench((s) => s.preview)
  const set = useBench((s) => s.set)
  const edit = useEdit(character)
  const tried = useMutation({
    mutationFn: (repair: Repair) => fetchPreview(character.id, character.revision.number, stepOf(repair)),
    onSuccess: (found) => set({ preview: found }),
    onError: (error) => void message.error(error.message, 6),
  })
  // a preview speaks of the revision it was made on
  useEffect(() => () => set({ preview: null }), [set, character.revision.number])
  const repairs = check.repairs ?? []
  if (!repairs.length) return null
  const chosen = tried.variables
  const away = () => {
    tried.reset()
    set({ preview: null })
  }
  return (
    <div className="repairs">
      {repairs.map((repair) => (
        <Button
          key={repair.text}
          size="small"
          title="Shows what it would do; nothing is changed yet"
          type={chosen === repair ? 'default' : 'primary'}
          ghost={chosen !== repair}
          loading={tried.isPending && chosen === repair}
          onClick={() => tried.mutate(repair)}
        >
          {repair.text} …
        </Button>
      ))}
      {preview && chosen && (
        <div className="preview" role="region" aria-label="What it would do">
          <Effects preview={preview} />
          <div className="row">
            <Button size="small" type="primary" loading={edit.isPending} onClick={() => edit.mutate(stepOf(chosen), { onSuccess: away })}>
              Repair
            </Button>
            <Button size="small" type="text" onClick={away}>
              Leave it
            </Button>
          </div>
        </div>
      )}
    </div>
  )
}

const SIGNS = { fault: 'fault', look: 'look', fine: 'fine' } as const

/** What moves, and which verdicts change. */
function Effects({ preview }: { preview: PreviewOut }) {
  return (
    <>
      {preview.parts.map((p) => (
        <p key={p.part}>
          {p.gone
            ? `${partLabel(p.part)}: ${counted(p.gone, 'vertex', 'vertices')} fewer`
            : `${partLabel(p.part)}: ${counted(p.moved, 'vertex', 'vertices')} moved, ${mm(p.farthest)} at most`}
        </p>
      ))}
      <p className={preview.order_kept ? 'quiet' : 'attention'}>
        {preview.order_kept ? 'Vertex order stays.' : 'Vertices are renumbered; the source map keeps the delivered numbers.'}
      </p>
      {preview.changes.map((change) => (
        <p key={change.label} className="change">
          <span className={`sign ${change.before ? SIGNS[change.before] : 'waived'}`} />→
          <span className={`sign ${change.after ? SIGNS[change.after] : 'waived'}`} />
          <span>
            {change.label} <span className="quiet">{change.said}</span>
          </span>
        </p>
      ))}
      {!preview.changes.length && <p className="quiet">No verdict changes.</p>}
    </>
  )
}
