import { Checkbox } from 'antd'
import type { CharacterOut, EyeLids, LidDriver } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { useLidDrivers } from '../../state/lidBoard'
import { mm } from '../../ui/names'

const WAYS: { kind: LidDriver['kind']; label: string; title: string }[] = [
  { kind: 'arc', label: 'The arc', title: 'As it is drawn here; exported as shapes' },
  { kind: 'shapes', label: 'Shapes', title: 'Baked, with in-betweens' },
  { kind: 'bones', label: 'Bones', title: 'A bone for each lid that turns about the eye' },
]
const NARROW = 0.15 // mm that nobody sees

interface Props {
  character: CharacterOut
  eye: EyeLids
  edit: ReturnType<typeof useEdit>
}

/** What closes the lids: one of arc, shapes and bones, with how far each is from the arc. */
export function DriverTable({ character, eye, edit }: Props) {
  const mirror = useBench((s) => s.mirror)
  const { data, error } = useLidDrivers(character, eye.side)
  const { kind, between = 3, gaze = false } = eye.driver
  const drive = (changed: Partial<LidDriver>) => edit.mutate({ edit: 'lids.drive', params: { side: eye.side, mirror, driver: { kind, between, gaze, ...changed } } })
  const length = (v: number | null | undefined) => (v == null ? '' : <span className={v <= NARROW ? 'num' : 'num ochre'}>{mm(v)}</span>)
  return (
    <div className="drivers">
      <div className="row" role="radiogroup" aria-label="What closes the lids">
        {WAYS.map((way) => (
          <button key={way.kind} className="chip" role="radio" aria-checked={kind === way.kind} title={way.title} disabled={edit.isPending} onClick={() => drive({ kind: way.kind })}>
            {way.label}
          </button>
        ))}
      </div>
      <div className="row">
        <Checkbox checked={gaze} disabled={kind !== 'shapes' || edit.isPending} onChange={(e) => drive({ gaze: e.target.checked })}>
          Targets for the turned eye too
        </Checkbox>
      </div>
      <p className="quiet">The farthest that any vertex of lids and lashes then is from the arc, over a whole closing. Nothing of the arc is lost.</p>
      {error && <p className="madder">{error.message}</p>}
      {!data && !error && <p className="quiet">Measuring …</p>}
      {data && (
        <table aria-label="How far from the arc">
          <thead>
            <tr className="quiet">
              <th>In-betweens</th>
              <th>straight</th>
              <th>all gazes</th>
              <th>with targets</th>
            </tr>
          </thead>
          <tbody>
            {data.map((row) => (
              <tr key={`${row.kind} ${row.between}`} aria-selected={row.kind === kind && (row.kind === 'bones' || row.between === between)}>
                <th>
                  {row.kind === 'bones' ? (
                    'Bones'
                  ) : (
                    <button className="bare link" disabled={edit.isPending} title="Bake with so many" onClick={() => drive({ kind: 'shapes', between: row.between })}>
                      {row.between}
                    </button>
                  )}
                </th>
                <td>{length(row.straight)}</td>
                <td>{length(row.gazes)}</td>
                <td>{length(row.with_targets)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  )
}
