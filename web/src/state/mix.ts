import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App } from 'antd'
import { useEffect } from 'react'
import { create } from 'zustand'
import { fetchAsIntended, fetchMendings, fetchMix, fetchWoken, fetchMixSince, fetchPlaceCut, fetchRepairAll, sendSweep, type BoardFinding, type CharacterOut } from '../api/client'
import { followed, type Job } from '../api/jobs'
import { shownValues, useBench } from './bench'
import { useEdit } from './edits'
import { useNewest } from './useNewest'

interface MixView {
  /** The lines of the board whose cell is looked at, by their keys: row, column. */
  cell: readonly [string, string] | null
  /** The cause that is looked at. */
  cause: number | null
  /** The place that was gone to last: it can be cut through. */
  place: { part: string; vertex: number } | null
  folded: ReadonlySet<string>
  wrongOnly: boolean
  filter: string | null
  /** px of a cell; as fits without. */
  size: number | null
  /** Against the pinned revision. */
  against: boolean
  /** The pose of which a small picture stands beside the board. */
  looked: Record<string, number> | null
  picture: string | null
  /** The revision all causes of which are to be put right in a draft. */
  repaired: number | null
}

/** What of the board is seen. */
export const useMixView = create<MixView>(() => ({ cell: null, cause: null, place: null, folded: new Set(), wrongOnly: false, filter: null, size: null, against: false, looked: null, picture: null, repaired: null }))

const keyOf = ({ id, revision }: CharacterOut) => ['mix', id, revision.number]

/** The last sweep of a character, and the one that is going on. */
export const useMix = (character: CharacterOut) =>
  useQuery({
    queryKey: keyOf(character),
    queryFn: () => fetchMix(character.id, character.revision.number),
    placeholderData: (before) => before,
    retry: false,
  })

/** Follows the sweep that is going on to its end. */
export function useFollowedSweep(character: CharacterOut, going: Job | null) {
  const queries = useQueryClient()
  const id = going?.id
  useEffect(() => {
    if (!going || !id) return
    // what came of it is asked for again, however it ended
    void followed(going)
      .catch(() => undefined)
      .then(() => Promise.all([queries.invalidateQueries({ queryKey: ['mix', character.id] }), queries.invalidateQueries({ queryKey: ['character', character.id] })]))
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the job is followed once, by its id
  }, [id, character.id, queries])
}

/** What is new, worse, better and gone against the pinned revision, while that is asked for. */
export function useMixSince(character: CharacterOut, fresh: boolean) {
  const pin = useBench((s) => s.pin?.number)
  const against = useMixView((s) => s.against) && pin !== undefined && fresh
  const query = useQuery({
    queryKey: ['mix', character.id, character.revision.number, 'since', pin],
    queryFn: () => fetchMixSince(character.id, pin!, character.revision.number),
    enabled: against,
    retry: false,
  })
  return { pin, error: against ? query.error : null, changes: against ? (query.data ?? null) : null }
}

/** What would put a cause right, once that is asked for. */
export function useMendings({ id, revision }: CharacterOut, cause: number | null) {
  return useQuery({
    queryKey: ['mendings', id, revision.number, cause],
    queryFn: ({ signal }) => fetchMendings(id, revision.number, cause!, signal),
    enabled: cause !== null,
    retry: false,
    staleTime: Infinity,
  })
}

/** What puts all causes right, once that is asked for; `stop` takes the wish back. */
export function useRepairAll({ id, revision }: CharacterOut) {
  const queries = useQueryClient()
  const queryKey = ['repair all', id, revision.number]
  const asked = useMixView((s) => s.repaired === revision.number)
  const query = useQuery({ queryKey, queryFn: ({ signal }) => fetchRepairAll(id, revision.number, signal), enabled: asked, retry: false, staleTime: Infinity })
  const stop = () => {
    useMixView.setState({ repaired: null })
    void queries.cancelQueries({ queryKey })
  }
  return { ...query, asked, ask: () => useMixView.setState({ repaired: revision.number }), stop }
}

/** What brings a corrective in beside the mix that it is for. */
export const useWoken = ({ id, revision }: CharacterOut, name: string) =>
  useQuery({ queryKey: ['woken', id, revision.number, name], queryFn: () => fetchWoken(id, revision.number, name), placeholderData: (before) => before, retry: false })

/** Calls a cause intended. */
export function useIntend(character: CharacterOut) {
  const edit = useEdit(character)
  const { message } = App.useApp()
  const asked = useMutation({
    mutationFn: async ({ cause, reason }: { cause: number; reason: string }) => {
      const found = await fetchAsIntended(character.id, character.revision.number, cause)
      return edit.mutateAsync({ edit: 'mix.intend', params: { ...found, reason } })
    },
    onError: (error) => void message.error(error.message, 6),
  })
  return { intend: asked.mutate, pending: asked.isPending || edit.isPending }
}

/** Begins a sweep of the revision that is seen, or of another one. */
export function useSweep(character: CharacterOut, revision = character.revision.number) {
  const queries = useQueryClient()
  const { message } = App.useApp()
  return useMutation({
    mutationFn: () => sendSweep(character.id, revision),
    onSuccess: (job: Job) => queries.setQueryData(keyOf(character), (before: object | undefined) => ({ report: null, revision: null, fresh: false, ...before, job })),
    onError: (error) => void message.error(error.message),
  })
}

/** A place of the posed head, framed and picked; the section goes through its worst vertex. */
export function lookAtPlace({ part, vertex, vertices }: { part: string; vertex: number; vertices: number[] }) {
  const { set, frame } = useBench.getState()
  const place = { part, vertices }
  set({ selection: place })
  frame([place], 4)
  useMixView.setState({ place: { part, vertex } })
}

/** The stage in the pose of a finding, its place looked at, its seam chosen. */
export function lookAtFinding(finding: BoardFinding) {
  const { goTo, set, character } = useBench.getState()
  const seam = character?.seams.find((s) => s.name === finding.about)
  goTo(finding.values)
  if (seam) set({ seam: seam.name })
  lookAtPlace(finding)
  useMixView.setState({ looked: finding.values })
}

/** A flat cut through the place that is looked at, in the pose on the stage. */
export function usePlaceCut({ id, revision }: CharacterOut) {
  const place = useMixView((s) => s.place)
  const open = useBench((s) => s.cutOpen)
  const { part, vertex } = place ?? { part: '', vertex: 0 }
  return useNewest(`${id} ${part} ${vertex}`, [revision.number], (values) => fetchPlaceCut(id, revision.number, part, vertex, values), place !== null && open, shownValues)
}
