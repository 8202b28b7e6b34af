import { Button } from 'antd'
import type { AllRepaired, CharacterOut, Step } from '../../api/client'
import { useWaits } from '../../api/jobs'
import { useStroke } from '../../state/edits'
import { useRepairAll } from '../../state/mix'
import { counted } from '../../ui/names'
import { saveBlob } from '../../ui/saveBlob'
import { repairReport } from './repairReport'
import { Worse } from './Worse'

/** All causes put right in a draft, one after the other; what that did is seen before it is made. */
export function RepairAll({ character }: { character: CharacterOut }) {
  const { data, error, isFetching, asked, ask, stop } = useRepairAll(character)
  const job = useWaits((s) => s.jobs.find((j) => j.kind === 'repair all'))
  if (!asked)
    return (
      <Button size="small" title="The worst first, each by the first way that harms nothing; how far an expression goes by itself stays as it is. You see what was done before it is made" onClick={ask}>
        Repair all
      </Button>
    )
  if (isFetching)
    return (
      <div className="row repairing" role="status" aria-label="Repair all">
        <span className="quiet">{job?.text || 'Starting …'}</span>
        <Button size="small" onClick={stop}>
          Stop
        </Button>
      </div>
    )
  if (error || !data)
    return (
      <p className="madder" role="status" aria-label="Repair all">
        {error?.message} <Button size="small" onClick={stop}>Leave it</Button>
      </p>
    )
  return <Done character={character} done={data} onLeave={stop} />
}

function Done({ character, done, onLeave }: { character: CharacterOut; done: AllRepaired; onLeave: () => void }) {
  const store = useStroke(character)
  const { repairs, unmended, steps } = done
  const make = () => store.mutate({ step: { edit: 'edits.together', params: { steps } } as Step, on: character.revision.number })
  return (
    <section aria-label="Repair all" className="repair-all">
      <p>
        <span className="num">
          {done.findings_before} → {done.findings_after}
        </span>{' '}
        findings,{' '}
        <span className="num">
          {done.causes_before} → {done.causes_after}
        </span>{' '}
        causes by {counted(repairs.length, 'repair')}; {done.worse.length ? <span className="madder">{counted(done.worse.length, 'finding')} new or worse:</span> : 'nothing is new or worse.'}
      </p>
      {done.worse.length > 0 && (
        <ul>
          {done.worse.map((e) => (
            <Worse key={`${e.title} ${e.moment}`} effect={e} />
          ))}
        </ul>
      )}
      <ol>
        {repairs.map((r, k) => (
          <li key={k}>
            <b>{r.title}</b> <span className="quiet">{r.moment}</span>{' '}
            <span className="num">
              {r.found} → {r.left}
            </span>
            <br />
            {r.text}
          </li>
        ))}
      </ol>
      {unmended.length > 0 && (
        <>
          <b>Left as they are</b>
          <p className="quiet">Nothing that was tried puts half of them right without harm. Find repairs, below each, has what would harm something.</p>
          <ul>
            {unmended.map((u) => (
              <li key={`${u.title} ${u.moment}`}>
                {u.title} <span className="quiet">{u.moment}</span>, {counted(u.found, 'cell')}
              </li>
            ))}
          </ul>
        </>
      )}
      <span className="row">
        {repairs.length > 0 && (
          <Button size="small" type="primary" loading={store.isPending} onClick={make}>
            Make {repairs.length === 1 ? 'this repair' : `these ${repairs.length} repairs`}
          </Button>
        )}
        <Button size="small" title="What was done and what is left, with the steps as a recipe, as Markdown" onClick={() => saveBlob(new Blob([repairReport(character, done)], { type: 'text/markdown' }), `${character.name} repairs.md`)}>
          Save the report
        </Button>
        <Button size="small" onClick={onLeave}>
          Leave it
        </Button>
      </span>
    </section>
  )
}
