import { fetchMeasureAt, type CharacterOut, type MeasureOut } from '../api/client'
import { shownValues, useBench } from './bench'
import { useNewest } from './useNewest'

/** As what the frame of a take is among the poses that are measured. */
export const HERE = 'frame of the take'

/** What is measured in the frame of a take that is on the stage; while it plays, the newest that there was time for. */
export function useHere({ id, revision }: CharacterOut): MeasureOut | undefined {
  const wanted = useBench((s) => s.ofTake)
  const { data } = useNewest(`here ${id}`, [revision.number], (values: Record<string, number>) => fetchMeasureAt(id, revision.number, values), wanted, shownValues)
  return wanted ? data : undefined
}
