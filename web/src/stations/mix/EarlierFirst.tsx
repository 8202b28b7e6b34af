import { useNavigate } from 'react-router-dom'
import type { CharacterOut } from '../../api/client'
import { useCounts } from '../../state/counts'
import { counted } from '../../ui/names'
import { STATIONS } from '../stations'

const MIX = STATIONS.findIndex((s) => s.key === 'mix')

/** What single expressions have wrong comes back in every mix: its own stations come first. */
export function EarlierFirst({ character }: { character: CharacterOut }) {
  const navigate = useNavigate()
  const counts = useCounts(character, 'mix')
  const waiting = STATIONS.slice(0, MIX).filter((s) => s.key !== 'checkin' && counts[s.key]?.count)
  if (!waiting.length) return null
  return (
    <p className="quiet said" role="note" aria-label="First">
      First{' '}
      {waiting.map((s, k) => (
        <span key={s.key}>
          {k > 0 && (k === waiting.length - 1 ? ' and ' : ', ')}
          <button className="bare link" onClick={() => navigate(`/characters/${character.id}/${s.key}${window.location.search}`)}>
            {s.label}
          </button>{' '}
          ({counted(counts[s.key]!.count, 'finding')})
        </span>
      ))}
      : what is wrong in single poses comes back in every mix.
    </p>
  )
}
