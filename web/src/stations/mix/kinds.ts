import type { BoardFinding } from '../../api/client'

/** What each kind of finding is called. */
export const KINDS: Record<BoardFinding['kind'], string> = {
  clash: 'Overlap',
  self: 'Skin in itself',
  off: 'Lid off the eye',
  gape: 'Gape',
  lag: 'Lag',
  drift: 'Drift',
  stretch: 'Drawn out',
  squeeze: 'Pressed together',
  flip: 'Turned over',
  crumple: 'Crumpled',
  hollow: 'Sunk in',
}
