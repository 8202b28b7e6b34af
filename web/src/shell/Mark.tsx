import { Link } from 'react-router-dom'

/** A seam drawn together, in the colours of the surroundings. */
export function Mark() {
  return (
    <Link to="/" className="wordmark" title="To the shelf">
      <svg width={22} height={22} viewBox="0 0 22 22" fill="none" strokeLinecap="round" aria-hidden>
        <path d="M2 11h18" stroke="var(--spruce)" strokeWidth="2" strokeDasharray="4 2.6" />
        <path d="M3 5c5 3 11 3 16 0M3 17c5-3 11-3 16 0" stroke="var(--ink)" strokeWidth="1.6" />
      </svg>
      Tight Seam
    </Link>
  )
}
