import { Button } from 'antd'
import type { CurveKey, EyeLids } from '../../api/client'
import { useBench } from '../../state/bench'

/** A line upside down: what lay near the upper margin lies as near the lower one. */
const turned = (keys: CurveKey[]): CurveKey[] => keys.map((k) => ({ at: k.at, value: 1 - k.value, slope: k.slope == null ? null : -k.slope }))

/** Copying a line to another eye or another character, as it is or upside down. */
export function LineButtons({ eye, onSet }: { eye: EyeLids; onSet: (keys: CurveKey[]) => void }) {
  const copied = useBench((s) => s.copiedLine)
  const set = useBench((s) => s.set)
  return (
    <div className="repairs">
      <Button size="small" onClick={() => set({ copiedLine: eye.keys })}>
        Copy line
      </Button>
      <Button size="small" disabled={!copied} onClick={() => copied && onSet(copied)}>
        Paste
      </Button>
      <Button size="small" disabled={!copied} title="Upside down: from the upper lid's side to the lower one's" onClick={() => copied && onSet(turned(copied))}>
        Paste turned
      </Button>
    </div>
  )
}
