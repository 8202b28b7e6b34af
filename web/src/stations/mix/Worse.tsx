import type { Mending } from '../../api/client'

type Effect = Mending['effects'][number]

/** A finding that gets worse, or is new. */
export const Worse = ({ effect: e }: { effect: Effect }) => (
  <li>
    {e.title} <span className="quiet">{e.moment}</span>{' '}
    <span className="num">
      {e.before == null ? 'within' : e.before.toFixed(2)} → {e.after?.toFixed(2)} {e.unit === 'share' || e.unit === 'times' ? '' : e.unit}
    </span>
  </li>
)
