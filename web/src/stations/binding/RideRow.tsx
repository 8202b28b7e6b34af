import { Button, Select } from 'antd'
import { useState } from 'react'
import type { CharacterOut, PartOut } from '../../api/client'
import { useEdit } from '../../state/edits'
import { partLabel } from '../../ui/names'

/** Lets a part ride on the surface of another: brows and lashes vertex by vertex, whiskers and hair as tufts. */
export function RideRow({ character, part }: { character: CharacterOut; part: PartOut }) {
  const edit = useEdit(character)
  const carriers = character.parts.filter((p) => p.name !== part.name && p.influences.length > 0)
  const [on, setOn] = useState(part.rides_on ?? carriers.find((p) => p.kind === 'skin')?.name ?? carriers[0]?.name)
  const [by, setBy] = useState<'vertex' | 'tuft'>(part.kind === 'hair' || part.kind === 'whiskers' ? 'tuft' : 'vertex')
  if (!carriers.length) return null
  return (
    <section aria-label="Ride" aria-busy={edit.isPending}>
      <h3>Ride on a surface</h3>
      <div className="weight-line">
        <Select size="small" aria-label="Ride on" value={on} onChange={setOn} options={carriers.map((p) => ({ value: p.name, label: partLabel(p.name) }))} popupMatchSelectWidth={false} />
        <Select
          size="small"
          aria-label="Ride by"
          value={by}
          onChange={setBy}
          popupMatchSelectWidth={false}
          options={[
            { value: 'vertex', label: 'vertex by vertex' },
            { value: 'tuft', label: 'as tufts' },
          ]}
        />
        <Button size="small" disabled={!on} onClick={() => on && edit.mutate({ edit: 'binding.ride', params: { part: part.name, on, by, tolerance: 0.1 } })}>
          Ride
        </Button>
      </div>
      <p className="quiet said">
        {part.rides_on
          ? `Rooted at ${part.roots.length} vertices of ${partLabel(part.rides_on)}, marked on the stage. Shapes move it along.`
          : 'It goes with the surface under it in every pose; what shapes did to it already is not done twice.'}
      </p>
    </section>
  )
}
