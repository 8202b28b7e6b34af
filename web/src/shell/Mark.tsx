import { Link } from 'react-router-dom'

export function Mark() {
  return (
    <Link to="/" className="wordmark" title="To the shelf">
      <img src="/mark.svg" width={22} height={22} alt="" />
      Tight Seam
    </Link>
  )
}
