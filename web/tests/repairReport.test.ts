import { expect, it } from 'vitest'
import type { AllRepaired } from '../src/api/client'
import { repairReport } from '../src/stations/mix/repairReport'

const head = { name: 'Hob', revision: { number: 4, parent: 3, text: '', edit: '' } }
const done: AllRepaired = {
  repairs: [{ title: 'The skin crumples: Cheek L', moment: 'in Smile with Pucker', found: 6, left: 0, kind: 'damp', text: 'Pucker leaves 60 % of Smile.' }],
  steps: [{ edit: 'control.damp', params: { control: 'smile' } }] as AllRepaired['steps'],
  unmended: [{ title: 'Lips cut the teeth', moment: 'in Thrust with Smile', size: 0.6, limit: 0.3, unit: 'mm', found: 1 }],
  findings_before: 7,
  findings_after: 1,
  causes_before: 2,
  causes_after: 1,
  worse: [],
}

it('tells what was done, what is left, and the recipe; nothing under a title of its own where there is nothing', () => {
  const text = repairReport(head, done)
  expect(text).toContain('# Hob, revision 4')
  expect(text).toContain('7 findings before, 1 after; 2 causes before, 1 after. 1 repair,')
  expect(text).toContain('1. **The skin crumples: Cheek L** in Smile with Pucker: 6 cells before, 0 after. Pucker leaves 60 % of Smile.')
  expect(text).toContain('- Lips cut the teeth in Thrust with Smile, in 1 cell')
  expect(text).not.toContain('New or worse')
  expect(JSON.parse(/```json\n([\s\S]*)\n```/.exec(text)![1]!)).toEqual(done.steps)
})

it('says nothing of repairs where none was found', () => {
  expect(repairReport(head, { ...done, repairs: [], steps: [] })).not.toMatch(/## (Repaired|Recipe)/)
})
