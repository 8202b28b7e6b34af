import { useMutation } from '@tanstack/react-query'
import { Button, Collapse, Select, Switch } from 'antd'
import { useEffect, useState } from 'react'
import { sendPackage, type ArrivedOut, type CharacterOut, type LeaveOut, type PackageOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { useReceiver } from '../../state/receiver'
import { partLabel } from '../../ui/names'
import { useSave } from '../../ui/useSave'

const NOTHING: LeaveOut = { parts: [], bones: [], shapes: [] }
const SEEN = 0.3 // mm: more of it is seen

/** What the receiver gets: made, measured by what poses it there, saved. */
export function PackagePanel({ character }: { character: CharacterOut }) {
  const { profile, own } = useReceiver()
  const save = useSave()
  const [less, setLess] = useState(NOTHING)
  const { number } = character.revision
  const pack = useMutation({ mutationFn: () => sendPackage(character.id, number, profile, own, less) })
  const asked = JSON.stringify([number, profile, own, less])
  const { reset } = pack
  useEffect(() => reset(), [asked, reset]) // what was made of something else is none of this
  const left = less.parts.length + less.bones.length + less.shapes.length
  return (
    <section aria-label="Package">
      <h3>Package</h3>
      <p className="quiet">The files that this receiver wants. What they cannot express is fitted by shapes and a table that brings them in; how far it is off is measured.</p>
      <Collapse ghost size="small" items={[{ key: 'less', label: left ? `Left out: ${left}` : 'Leave something out', children: <Less character={character} less={less} onChange={setLess} /> }]} />
      <div className="row">
        <Button type="primary" size="small" loading={pack.isPending} disabled={pack.isPending} onClick={() => pack.mutate()}>
          {pack.isPending ? 'Packing …' : 'Make the package'}
        </Button>
        {pack.data && (
          <Button size="small" onClick={() => save(`/api/characters/${character.id}/packages/${pack.data.key}.zip`)}>
            Save it
          </Button>
        )}
      </div>
      {pack.error && <p className="madder">{pack.error.message}</p>}
      {pack.data && <Arrived made={pack.data} character={character} />}
    </section>
  )
}

function Less({ character, less, onChange }: { character: CharacterOut; less: LeaveOut; onChange: (less: LeaveOut) => void }) {
  const offered = {
    parts: character.parts.map(({ name }) => ({ value: name, label: partLabel(name) })),
    bones: character.bones.map(({ name, label }) => ({ value: name, label })),
    shapes: character.shapes.map(({ name, label }) => ({ value: name, label })),
  }
  return (['parts', 'bones', 'shapes'] as const).map((kind) => (
    <Select
      key={kind}
      mode="multiple"
      size="small"
      style={{ width: '100%', marginBottom: 6 }}
      aria-label={`Leave out ${kind}`}
      placeholder={`Leave out ${kind}`}
      optionFilterProp="label"
      value={less[kind]}
      options={offered[kind]}
      onChange={(names: string[]) => onChange({ ...less, [kind]: names })}
    />
  ))
}

/** How far what arrives is off, and what the receiver does to it; on the stage as it poses there. */
function Arrived({ made, character }: { made: PackageOut; character: CharacterOut }) {
  const revision = character.revision.number
  const arrived = useBench((s) => s.arrived)
  const comparing = useBench((s) => s.comparing)
  const set = useBench((s) => s.set)
  const goTo = useBench((s) => s.goTo)
  const off = useBench((s) => s.arrivedOff)
  const shown = arrived?.key === made.key
  const show = (on: boolean) => set(on ? { arrived: { key: made.key, revision, without: made.without }, arrivedOff: null } : { arrived: null, comparing: false })
  useEffect(() => () => set({ arrived: null, comparing: false }), [set, made.key])
  const size = made.files.reduce((sum, file) => sum + file.bytes, 0)
  const playable = made.files.some(({ name }) => name.endsWith('.glb'))
  return (
    <>
      <p className="quiet">
        {made.files.length} files, {(size / 1e6).toFixed(1)} MB.{made.shapes > 0 && ` ${made.shapes} shapes stand in for lids and lips.`}
      </p>
      <table className="arrived" aria-label="How far off it arrives">
        <thead>
          <tr className="quiet">
            <th>mm off</th>
            <th>most</th>
            <th>typical</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {made.arrived.map((row) => (
            <Row key={row.what} row={row} onLook={() => (goTo(row.values), show(playable))} />
          ))}
        </tbody>
      </table>
      <Told title="Detail levels" lines={made.levels.map(levelSaid)} />
      <Told title="What this receiver does with it" lines={made.done} />
      <Told title="What the face misses" lines={made.missed} />
      {playable && (
        <div className="row">
          <Switch size="small" aria-label="Show what arrives" checked={shown} onChange={show} /> Show what arrives
          {shown && off !== null && <span className="num" aria-label="Off in this pose">{`${off.toFixed(2)} mm`}</span>}
        </div>
      )}
      {playable && (
        <div className="row">
          <Button size="small" type="text" aria-pressed={comparing} disabled={!shown} title="What was made here, left of a handle" onClick={() => set({ comparing: !comparing })}>
            Side by side
          </Button>
          <Button size="small" type="text" disabled={!shown} title="About half of all controls anywhere in their range" onClick={() => goTo(randomPose(character))}>
            Random pose
          </Button>
        </div>
      )}
    </>
  )
}

function Row({ row, onLook }: { row: ArrivedOut; onLook: () => void }) {
  const where = [row.pose || row.said, row.part].filter(Boolean).join(', on ')
  return (
    <tr>
      <th>
        {row.what.charAt(0).toUpperCase()}
        {row.what.slice(1)} <span className="quiet num">{row.poses}</span>
      </th>
      <td className={row.mm > SEEN ? 'num ochre' : 'num'}>{row.mm.toFixed(2)}</td>
      <td className="num">{row.typical.toFixed(2)}</td>
      <td>
        <Button size="small" type="link" title={where} onClick={onLook}>
          Look
        </Button>
      </td>
    </tr>
  )
}

const randomPose = ({ controls }: CharacterOut) =>
  Object.fromEntries(controls.filter(() => Math.random() < 0.5).map(({ name, low, high }) => [name, low + Math.random() * (high - low)]))

const levelSaid = ({ label, vertices, bones, shapes, lost }: PackageOut['levels'][number]) => {
  const off = Object.entries(lost).map(([what, mm]) => `fewer ${what} ${mm.toFixed(2)} mm`)
  return `${label}: ${vertices.toLocaleString('en-GB')} vertices, ${bones} bones, ${shapes} shapes. ${off.length ? `Off at most by ${off.join(', ')}.` : 'Nothing is lost.'}`
}

function Told({ title, lines }: { title: string; lines: string[] }) {
  if (!lines.length) return null
  return (
    <>
      <h4>{title}</h4>
      <ul className="quiet">
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </>
  )
}
