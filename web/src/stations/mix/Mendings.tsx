import { App, Button } from 'antd'
import { useEffect, useState } from 'react'
import { sendTry, type CharacterOut, type Mending, type Step } from '../../api/client'
import { useWaits } from '../../api/jobs'
import { useBench } from '../../state/bench'
import { useStroke } from '../../state/edits'
import { useMendings } from '../../state/mix'
import { counted } from '../../ui/names'
import { Worse } from './Worse'

interface Props {
  character: CharacterOut
  cause: number
  /** The pose of its worst finding. */
  values: Record<string, number>
}

const stepOf = ({ edit, params }: Mending) => ({ edit, params }) as unknown as Step
const MOST_TOLD = 4

/** What would put a cause right: each way measured over the whole sweep and all test poses, the best first. */
export function Mendings({ character, cause, values }: Props) {
  const [asked, setAsked] = useState(false)
  const { data, error, isFetching } = useMendings(character, asked ? cause : null)
  const said = useWaits((s) => s.jobs.find((j) => j.kind === 'mendings')?.text)
  if (!asked)
    return (
      <Button size="small" onClick={() => setAsked(true)}>
        Find repairs
      </Button>
    )
  if (isFetching || error || !data)
    return (
      <p className={error ? 'madder' : 'quiet'} role="status" aria-label="Repairs">
        {error ? error.message : said || 'Trying ways to put it right …'}
      </p>
    )
  return (
    <section aria-label="Repairs" className="mendings">
      {data.length === 0 && <p className="quiet">None of the ways that were tried puts half of it right without doing more harm than good. Sculpt a corrective, or change what causes it.</p>}
      {data.map((mending) => (
        <Way key={mending.text} {...{ character, mending, values }} />
      ))}
    </section>
  )
}

function Way({ character, mending, values }: { character: CharacterOut; mending: Mending; values: Record<string, number> }) {
  const { message } = App.useApp()
  const store = useStroke(character)
  const [trying, setTrying] = useState(false)
  const [draft, setDraft] = useState<string | null>(null)
  const worse = mending.effects.filter((e) => e.how === 'new' || e.how === 'worse')
  const better = mending.effects.length - worse.length
  const tryOut = async () => {
    setTrying(true)
    await sendTry(character.id, character.revision.number, stepOf(mending)).then(
      (found) => setDraft(found.draft ?? null),
      (refused: Error) => void message.error(refused.message),
    )
    setTrying(false)
  }
  return (
    <article className="mending" data-clean={mending.clean}>
      <b>{mending.text}</b>
      <p>
        <span className="num">
          {mending.found} → {mending.left}
        </span>{' '}
        {mending.left === 1 || (mending.left === 0 && mending.found === 1) ? 'cell' : 'cells'} of this cause; {better > 0 ? `${counted(better, 'finding')} gone or better` : 'nothing else better'}.{' '}
        {mending.harms === 0 ? `Nothing is worse in ${counted(mending.measured, 'cell')} that it changes, nor in any test pose.` : <span className="madder">{counted(mending.harms, 'thing')} new or worse:</span>}
      </p>
      {mending.harms > 0 && (
        <ul>
          {worse.slice(0, MOST_TOLD).map((e) => (
            <Worse key={`${e.title} ${e.moment}`} effect={e} />
          ))}
          {worse.length > MOST_TOLD && <li className="quiet">and {worse.length - MOST_TOLD} more</li>}
          {mending.strip.worse.length > 0 && <li>{mending.strip.said}</li>}
        </ul>
      )}
      <span className="row">
        {draft ? (
          <Trial draft={draft} values={values} onLeave={() => setDraft(null)} />
        ) : (
          <Button size="small" loading={trying} title="On the stage, in the worst pose of the cause; nothing is changed yet" onClick={() => void tryOut()}>
            Try
          </Button>
        )}
        <Button size="small" type={mending.harms ? 'default' : 'primary'} loading={store.isPending} onClick={() => store.mutate({ step: stepOf(mending), on: character.revision.number })}>
          {mending.harms ? 'Repair all the same' : 'Repair'}
        </Button>
      </span>
    </article>
  )
}

/** What it would look like, with what is now behind a handle. */
function Trial({ draft, values, onLeave }: { draft: string; values: Record<string, number>; onLeave: () => void }) {
  const { set, goTo } = useBench.getState()
  const comparing = useBench((s) => s.comparing)
  useEffect(() => {
    goTo(values)
    set({ trial: { draft, moved: [], arrows: [] }, comparing: true })
    return () => set({ trial: null, holdBefore: false, comparing: false })
  }, [draft, values, set, goTo])
  return (
    <>
      <Button size="small" onClick={onLeave}>
        Leave it
      </Button>
      <Button size="small" type="text" aria-pressed={comparing} title="What is now, left of a handle (C); hold V to see it alone" onClick={() => set({ comparing: !comparing })}>
        Before | after
      </Button>
    </>
  )
}
