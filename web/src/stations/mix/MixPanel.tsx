import { Button, Progress } from 'antd'
import { useEffect, useState } from 'react'
import { type CharacterOut, type MixOut, type MixReport } from '../../api/client'
import { leaveJob, useWaits, type Job } from '../../api/jobs'
import { useBench } from '../../state/bench'
import { useFollowedSweep, useMix, useMixView, useSweep } from '../../state/mix'
import { counted } from '../../ui/names'
import { Works } from '../../ui/Works'
import { useSave } from '../../ui/useSave'
import { PullList } from '../PullList'
import { Caps } from './Caps'
import { Causes } from './Causes'
import { CellCard } from './CellCard'
import { Correctives } from './Correctives'
import { counting } from './ends'
import { Dampings } from './Dampings'
import { Needs } from './Needs'

/** Every expression on every other: the sweep, and the few causes of all that is wrong. */
export function MixPanel({ character }: { character: CharacterOut }) {
  const { data, error } = useMix(character)
  useFollowedSweep(character, data?.job ?? null)
  const sweep = useSweep(character)
  const [work, setWork] = useState<'causes' | 'correctives' | 'rules'>('causes')
  const correctives = character.shapes.filter((s) => s.activation).length
  const rules = character.mix!.needs!.length + character.controls.reduce((n, c) => n + (c.damped?.length ?? 0), 0) + character.caps.length
  useEffect(() => () => useMixView.setState({ cell: null, cause: null, place: null, looked: null, picture: null, repaired: null }), [character.id])
  if (!data)
    return (
      <section aria-label="Mix">
        <h2>Mix</h2>
        <p>{error ? error.message : 'Reading the last sweep …'}</p>
      </section>
    )
  const { report, job } = data
  return (
    <section aria-label="Mix" className="mix" aria-busy={job !== null}>
      <h2>
        Mix {report && <span className="quiet num">{counting(report).length}</span>}
      </h2>
      {job ? <Sweeping job={job} /> : <Begin data={data} character={character} pending={sweep.isPending} onSweep={() => sweep.mutate()} />}
      {error && <p className="madder">{error.message}</p>}
      {report && <Missing report={report} />}
      {report && <AtRest report={report} />}
      <Works
        label="Work on mixes"
        chosen={work}
        onChoose={setWork}
        works={[
          { key: 'causes', label: 'Causes' },
          { key: 'correctives', label: `Correctives${correctives ? ` ${correctives}` : ''}` },
          { key: 'rules', label: `Rules${rules ? ` ${rules}` : ''}` },
        ]}
      />
      {work === 'causes' && report && <CellCard character={character} report={report} />}
      {work === 'causes' && report && <Causes character={character} report={report} fresh={data.fresh && !job && data.revision === character.revision.number} />}
      {work === 'correctives' && <Correctives character={character} />}
      {work === 'rules' && <Needs character={character} swept={(data.fresh && report?.ends) || []} />}
      {work === 'rules' && <Dampings character={character} />}
      {work === 'rules' && <Caps character={character} />}
      {work !== 'rules' && character.bones.length > 0 && <PullList character={character} stays />}
    </section>
  )
}

function Begin({ data, character, pending, onSweep }: { data: MixOut; character: CharacterOut; pending: boolean; onSweep: () => void }) {
  const { report, fresh } = data
  const save = useSave()
  const pin = useBench((s) => s.pin)
  const against = useMixView((s) => s.against) && pin !== null
  const address = `/api/characters/${character.id}/export.mix${against ? `?before=${pin.number}` : ''}`
  const none = character.controls.length === 0 && character.bones.length === 0
  return (
    <div className="row begin">
      <Button type={report && fresh ? 'default' : 'primary'} disabled={none} loading={pending} onClick={onSweep}>
        {report ? 'Sweep again' : 'Sweep'}
      </Button>
      {report && fresh && (
        <Button title={against ? `A page to print or send, side by side with rev ${pin.number}` : 'A page to print or send, with pictures'} onClick={() => save(address)}>
          Report
        </Button>
      )}
      <span className="quiet">
        {none && 'There is nothing to mix yet: a rig comes first.'}
        {!none && !report && 'Measures every control alone, with every other, and three together where two come near a limit.'}
        {report && fresh && `${counted(report.pairs, 'pair')} and ${counted(report.triples, 'triple')} measured.`}
        {report && !fresh && `Of revision ${data.revision}: something was changed since. Only that is measured again.`}
      </span>
    </div>
  )
}

/** How far the sweep is; it goes on though one leaves. */
function Sweeping({ job }: { job: Job }) {
  const now = useWaits((s) => s.jobs.find((j) => j.id === job.id)) ?? job
  return (
    <div className="sweeping" role="status" aria-label="Sweep">
      <Progress percent={Math.round(now.share * 100)} size="small" strokeColor="var(--spruce)" />
      <div className="row">
        <span className="quiet">{now.text || 'Starting …'}</span>
        <span className="gap" />
        <Button size="small" onClick={() => void leaveJob(job.id)}>
          Stop
        </Button>
      </div>
    </div>
  )
}

function Missing({ report }: { report: MixReport }) {
  const asleep = report.ends.filter((e) => e.asleep)
  if (!report.not_measured.length && !asleep.length) return null
  return (
    <div className="not-measured">
      <b>Not measured</b>
      {report.not_measured.map((text) => (
        <p key={text}>{text}</p>
      ))}
      {asleep.length > 0 && <p>{asleep.map((e) => e.label).join(', ')}: nothing here makes {asleep.length === 1 ? 'it' : 'them'} do anything.</p>}
    </div>
  )
}

/** What no expression is to blame for. */
function AtRest({ report }: { report: MixReport }) {
  if (!report.at_rest.length) return null
  return (
    <div className="not-measured at-rest">
      <b>At rest already</b>
      {report.at_rest.map((text) => (
        <p key={text}>{text}</p>
      ))}
    </div>
  )
}
