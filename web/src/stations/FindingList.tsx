import { App } from 'antd'
import { useState } from 'react'
import { sendTry, type CharacterOut, type Step, type TryOut } from '../api/client'
import type { useEdit } from '../state/edits'
import { FindingCard } from './FindingCard'
import { TriedOut } from './TriedOut'

/** What every finding says: what is wrong, and the edit that would put it right. */
interface Found {
  check: string
  title: string
  text: string
  edit?: string | null
  params?: object
}

interface Props<F> {
  label: string
  /** What is said where nothing is wrong. */
  fine: string
  answer: { data?: F[]; error: Error | null }
  edit: ReturnType<typeof useEdit>
  onLook: (finding: F) => void
  /** Whose repairs can be tried out over all test poses. */
  trying?: CharacterOut
}

/** What is wrong, each with its place and, where there is one, its repair. */
export function FindingList<F extends Found>({ label, fine, answer: { data, error }, edit, onLook, trying }: Props<F>) {
  const { message } = App.useApp()
  const [tried, setTried] = useState<{ key: string; revision: number; out: TryOut } | null>(null)
  if (error) return <p className="madder">{error.message}</p>
  if (!data) return null
  if (!data.length)
    return (
      <p className="quiet" role="status" aria-label={label}>
        <span className="sign" /> {fine}
      </p>
    )
  const tryOut = (key: string, finding: F, character: CharacterOut) => {
    onLook(finding)
    sendTry(character.id, character.revision.number, stepOf(finding))
      .then((out) => setTried({ key, revision: character.revision.number, out }))
      .catch((refused: Error) => void message.error(refused.message))
  }
  return (
    <section aria-label={label}>
      {data.map((f, k) => {
        const key = `${f.check} ${f.title} ${k}`
        const open = tried?.key === key && tried.revision === trying?.revision.number ? tried.out : null
        return (
          <FindingCard
            key={key}
            title={f.title}
            text={f.text}
            pending={edit.isPending}
            onLook={() => onLook(f)}
            onRepair={f.edit ? () => edit.mutate(stepOf(f)) : undefined}
            onTry={f.edit && trying ? () => tryOut(key, f, trying) : undefined}
          >
            {open && <TriedOut tried={open} pending={edit.isPending} onAccept={() => edit.mutate(stepOf(f))} onLeave={() => setTried(null)} />}
          </FindingCard>
        )
      })}
    </section>
  )
}

const stepOf = (finding: Found) => ({ edit: finding.edit, params: finding.params }) as Step
