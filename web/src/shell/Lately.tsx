import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router-dom'
import { fetchLately } from '../api/client'

const STEPS: [Intl.RelativeTimeFormatUnit, number][] = [
  ['day', 86_400],
  ['hour', 3_600],
  ['minute', 60],
]
const WORDS = new Intl.RelativeTimeFormat('en', { numeric: 'auto' })

/** How long ago, in the largest unit that fits. */
export function ago(when: string, now: number): string {
  const seconds = (now - new Date(when).getTime()) / 1000
  const step = STEPS.find(([, length]) => seconds >= length)
  return step ? WORDS.format(-Math.floor(seconds / step[1]), step[0]) : 'just now'
}

/** What was done last, to whomever. */
export function Lately() {
  const { data, dataUpdatedAt } = useQuery({ queryKey: ['lately'], queryFn: fetchLately })
  if (!data?.length) return null
  return (
    <section className="lately" aria-label="Lately">
      <h2>Lately</h2>
      <ul className="plain-list">
        {data.map((r) => (
          <li key={`${r.character} ${r.number}`}>
            <span className="quiet">{ago(r.when, dataUpdatedAt)}</span>
            <Link to={`/characters/${r.character}/binding`}>{r.name}</Link>
            <span>{r.text}</span>
            <span className="quiet num">rev {r.number}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
