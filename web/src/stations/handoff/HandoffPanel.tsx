import { useQuery } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { useEffect, useRef } from 'react'
import { fetchProfiles, type CharacterOut } from '../../api/client'
import { Export } from '../../shell/Export'
import { useOffences, useReceiver } from '../../state/receiver'
import { FileInput } from '../../ui/FileInput'
import { Findings } from '../findings/FindingList'
import { lookAtVertices } from '../findings/lookAtVertices'
import { BodyPanel } from './BodyPanel'
import { PackagePanel } from './PackagePanel'
import { RecipePanel } from './RecipePanel'
import { RestPanel } from './RestPanel'

/** Who is to receive the rig, what of it offends its limits, and the files that go out. */
export function HandoffPanel({ character }: { character: CharacterOut }) {
  const { profile, own, ask, choose } = useReceiver()
  useEffect(ask, [ask])
  const input = useRef<HTMLInputElement>(null)
  const profiles = useQuery({ queryKey: ['profiles'], queryFn: fetchProfiles, staleTime: Infinity })
  const shipped = profiles.data?.find((p) => p.name === profile && own === null)
  const offences = useOffences(character)
  const options = (profiles.data ?? []).map((p) => ({ value: p.name, label: p.label }))
  const label = shipped?.label ?? profile
  return (
    <section>
      <h2>Hand-off</h2>
      <p className="quiet">What of this rig its receiver would drop, refuse or set in its own way.</p>
      <div className="row">
        <Select aria-label="Receiver" style={{ flex: 1 }} value={own === null ? profile : 'own'} onChange={(name) => choose(name)} options={own === null ? options : [...options, { value: 'own', label: profile }]} />
        <Button title="A profile of your own, as a JSON file" onClick={() => input.current?.click()}>
          Open …
        </Button>
        <FileInput input={input} label="Profile of a receiver" accept=".json" onChoose={([{ file }]) => void file.text().then((text) => choose(file.name, text))} />
      </div>
      {shipped && <p className="quiet">{shipped.story}</p>}
      <Findings character={character} found={offences} label="Offences" fine={`${label} takes this rig as it is.`} onLook={lookAtVertices} hasPlace={({ part }) => Boolean(part)} />
      <BodyPanel character={character} />
      <RestPanel character={character} />
      <PackagePanel character={character} />
      <RecipePanel character={character} />
      <div className="row" style={{ marginTop: 12 }}>
        <Export character={character} />
      </div>
    </section>
  )
}
