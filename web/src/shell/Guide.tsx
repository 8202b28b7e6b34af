import { Tour, type TourProps } from 'antd'
import { useState } from 'react'

const at = (selector: string) => () => document.querySelector<HTMLElement>(selector)!

const STEPS: TourProps['steps'] = [
  {
    title: 'What is wrong',
    description: 'Every seam is measured in every test pose. Those beyond their limit stand on top, the worst first. Press one: the stage goes to the pose and the place.',
    target: at('.seams'),
    placement: 'right',
  },
  {
    title: 'Where, and in which poses',
    description: 'A red diamond marks a pose in which something is beyond its limit. The thread on the stage leads to the place.',
    target: at('.dock'),
    placement: 'top',
  },
  {
    title: 'Why, and what would mend it',
    description: 'A finding says how far, in which pose and what causes it. Repair does what it proposes; nothing else is touched, and it is one step to undo.',
    target: at('.right'),
    placement: 'left',
  },
  {
    title: 'What it did',
    description: 'After a repair all poses are measured again. What became better and what became worse is said below the stage. Ctrl+Z takes it back.',
    target: at('.stage-foot'),
    placement: 'top',
  },
]

/** A first repair, step by step, beside the work and not over it; it can be left at any time. */
export function Guide() {
  const [open, setOpen] = useState(() => new URLSearchParams(window.location.search).has('guide'))
  return <Tour open={open} steps={STEPS} mask={false} onClose={() => setOpen(false)} onFinish={() => setOpen(false)} scrollIntoViewOptions={false} />
}
