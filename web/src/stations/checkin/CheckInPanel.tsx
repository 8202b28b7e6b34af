import { Button, Dropdown, Spin } from 'antd'
import { useState } from 'react'
import { type CharacterOut, type Check, type CheckInOut } from '../../api/client'
import { useBench } from '../../state/bench'
import { faultsOf, useCheckIn } from '../../state/checkin'
import { counted } from '../../ui/names'
import { useSave } from '../../ui/useSave'
import { CheckRow } from './CheckRow'
import { PartsSection } from './PartsSection'
import { TwinSection } from './TwinSection'

/** Is this head fit to be rigged? All checks from worst to fine, and what came in. */
export function CheckInPanel({ character }: { character: CharacterOut }) {
  const { data, error, isPlaceholderData } = useCheckIn(character)
  return (
    <section aria-busy={isPlaceholderData || !data}>
      <header className="panel-head">
        <h2>Check-in</h2>
        <Out character={character} />
      </header>
      {error && <p className="madder">{error.message}</p>}
      {!data && !error && <Spin style={{ margin: 24 }} />}
      {data && <Checks character={character} report={data} />}
      <TwinSection character={character} />
      <PartsSection character={character} />
    </section>
  )
}

/** The note to the modeller, and the mesh as it stands now. */
function Out({ character }: { character: CharacterOut }) {
  const at = `/api/characters/${character.id}`
  const save = useSave() // a file that takes long is made by a job first, which a plain link would show instead
  const items = [
    { key: 'page', label: <a href={`${at}/note.html`} target="_blank" rel="noreferrer">Note as a page to print</a> },
    { key: 'zip', label: <a href={`${at}/note.zip`}>Note as Markdown with pictures</a> },
    { key: 'obj', label: 'Mesh as it stands, as OBJ', onClick: () => save(`${at}/export.obj`) },
  ]
  return (
    <Dropdown menu={{ items }} trigger={['click']}>
      <Button size="small">To the modeller</Button>
    </Dropdown>
  )
}

function Checks({ character, report }: { character: CharacterOut; report: CheckInOut }) {
  const waived = report.checks.filter((c) => c.waived != null)
  const of = (verdict: Check['verdict']) => report.checks.filter((c) => c.verdict === verdict && c.waived == null)
  const faults = faultsOf(report.checks)
  const looks = of('look').length
  return (
    <>
      <p className={faults ? 'madder verdict' : 'verdict'} role="status" aria-label="Verdict">
        {faults
          ? `${counted(faults, 'fault')} to mend before the first bone.`
          : looks
            ? 'Fit to be rigged, with something worth a look.'
            : 'Fit to be rigged.'}
      </p>
      <Group title="Faults" checks={of('fault')} {...{ character, report }} open />
      <Group title="Worth a look" checks={of('look')} {...{ character, report }} open />
      <Group title="Fine" checks={of('fine')} {...{ character, report }} open={faults + looks === 0} />
      <Group title="Intended" checks={waived} {...{ character, report }} open={false} />
    </>
  )
}

interface GroupProps {
  title: string
  checks: Check[]
  character: CharacterOut
  report: CheckInOut
  open: boolean
}

function Group({ title, checks, character, report, open }: GroupProps) {
  const key = useBench((s) => s.check)
  const [chosen, setChosen] = useState<boolean | null>(null)
  if (!checks.length) return null
  // a check that was opened stays in sight when its verdict changes
  const shown = chosen ?? (open || checks.some((c) => c.key === key))
  return (
    <div className="check-group">
      <button className="bare" aria-expanded={shown} onClick={() => setChosen(!shown)}>
        <span aria-hidden>{shown ? '▾' : '▸'}</span> {title} <span className="num">{checks.length}</span>
      </button>
      {shown && checks.map((check) => <CheckRow key={check.key} character={character} check={check} limits={report.limits} />)}
    </div>
  )
}
