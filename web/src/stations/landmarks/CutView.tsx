import type { Cut } from '../../api/client'
import { CutPicture } from '../../ui/CutPicture'
import { depthSaid } from '../../ui/names'

const SIZE = { width: 140, height: 140 }
const WIDE = 30 // mm that the picture shows

/** A flat cut through the gaze axis and the contact: the lid's flesh against the turned eye, with a scale. */
export function CutView({ cut, depth }: { cut: Cut; depth: number }) {
  // the contact in the middle, the way the eye looks to the right
  return <CutPicture label={`Section through the contact, ${depthSaid(depth)}`} size={SIZE} wide={WIDE} middle={cut.contact as [number, number]} cut={cut} overlaps={depth > 0} />
}
