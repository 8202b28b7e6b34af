import type { CharacterOut } from '../api/client'
import { ControlGroups } from '../ui/ControlGroups'

/** A slider for each control whose name holds what is searched for. */
export function ControlsDock({ character, wanted }: { character: CharacterOut; wanted: string }) {
  const found = character.controls.filter((c) => c.label.toLowerCase().includes(wanted.trim().toLowerCase()))
  return (
    <section className="control-columns" aria-label="Control sliders">
      <ControlGroups character={character} controls={found} />
      {!found.length && <p className="quiet">No control is called that.</p>}
    </section>
  )
}
