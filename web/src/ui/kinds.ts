import type { BoardFinding } from '../api/client'

/** What its sign says of each kind: kinds of one family share one. */
export const SIGNS: Record<BoardFinding['kind'], string> = {
  clash: 'In one another',
  self: 'In one another',
  off: 'Apart',
  gape: 'Apart',
  lag: 'Come off',
  drift: 'Come off',
  stretch: 'Drawn out',
  squeeze: 'Folded',
  flip: 'Folded',
  crumple: 'Folded',
  hollow: 'Sunk in',
  split: 'Apart',
  squash: 'Squashed',
}

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
  split: 'Open at a cut',
  squash: 'Skull gives',
}
