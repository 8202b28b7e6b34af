import type { AllRepaired, CharacterOut } from '../../api/client'
import { counted } from '../../ui/names'

/** What "Repair all" did and left, as Markdown; its steps at the end are a recipe, which the command line takes for another copy of the head. */
export function repairReport({ name, revision }: Pick<CharacterOut, 'name' | 'revision'>, done: AllRepaired): string {
  const { repairs, unmended, worse, steps } = done
  const section = (title: string, lines: string[]) => (lines.length ? ['', `## ${title}`, '', ...lines] : [])
  return [
    `# ${name}, revision ${revision.number}: all causes repaired`,
    '',
    `${counted(done.findings_before, 'finding')} before, ${done.findings_after} after; ${counted(done.causes_before, 'cause')} before, ${done.causes_after} after. ${counted(repairs.length, 'repair')}, each measured over every pose and mix that it touches.`,
    ...section('Repaired', repairs.map((r, k) => `${k + 1}. **${r.title}** ${r.moment}: ${counted(r.found, 'cell')} before, ${r.left} after. ${r.text}`)),
    ...section('New or worse', worse.map((e) => `- ${e.title} ${e.moment}`)),
    ...section('Left as they are', unmended.map((u) => `- ${u.title} ${u.moment}, in ${counted(u.found, 'cell')}`)),
    ...section('Recipe', steps.length ? ['```json', JSON.stringify(steps, null, 1), '```'] : []),
    '',
  ].join('\n')
}
