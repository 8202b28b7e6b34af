import { App } from 'antd'
import { useMutation, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { fetchCharacter, fetchHead, Refused, sendEdit, sendRedo, sendUndo, type CharacterOut, type Step } from '../api/client'
import { useBench } from './bench'
import { knownTo } from './known'
import { Turns } from './turns'

const turns = new Turns()
const keyOf = (id: number) => ['character', id]

const headOf = (queries: QueryClient, id: number) => queries.getQueryData<CharacterOut>(keyOf(id))!

/**
 * Changes a character when its turn comes, on what came of the changes before: a hand is often quicker than the answer. A stale one brings
 * in what others did, and refuses what this page still meant to do on the old state.
 */
const inTurn = (queries: QueryClient, id: number, run: (head: CharacterOut) => Promise<CharacterOut>) =>
  turns.take(id, async () => {
    try {
      const changed = await run(headOf(queries, id))
      forgetValues(changed)
      queries.setQueryData(keyOf(id), changed)
      return changed
    } catch (error) {
      if (error instanceof Refused && error.stale) {
        turns.breakOff(id)
        queries.setQueryData(keyOf(id), await fetchCharacter(id))
      }
      throw error
    }
  })

/** What is not there any more is not asked for any more. */
function forgetValues(changed: CharacterOut) {
  const { character, values, set } = useBench.getState()
  if (character?.id === changed.id && knownTo(changed, values) !== values) set({ values: knownTo(changed, values) })
}

/** Runs a change on the character; `run` gets it as it then is. A refusal is said in the server's words. */
export function useChange<T>(character: CharacterOut, run: (input: T, head: CharacterOut) => Promise<CharacterOut>) {
  const { message } = App.useApp()
  const queries = useQueryClient()
  const { id } = character
  return useMutation({
    mutationFn: (input: T) => inTurn(queries, id, (head) => run(input, head)),
    onError: (error) => void message.error(error.message, 6),
  })
}

export const useEdit = (character: CharacterOut) => useChange(character, (step: Step, head) => sendEdit(head, step))

/** Whether there is something to undo is asked when its turn comes: the keys are often pressed before an edit has come back. */
export const useUndo = (character: CharacterOut) =>
  useChange(character, async (_: void, head) => (head.can_undo ? sendUndo(head) : head))

export const useRedo = (character: CharacterOut) =>
  useChange(character, async (_: void, head) => (head.can_redo ? sendRedo(head) : head))

/** Stores what was drawn on a revision; refused where another one came in between, because something else was seen then. */
export const useStroke = (character: CharacterOut) =>
  useChange(character, ({ step, on }: { step: Step; on: number }, head) => sendEdit(head, step, on))

const NEWS_EVERY = 2000 // ms

/** Brings in what others did, or this person in another window, soon after. What this page is at itself goes first. */
export function useNews({ id }: CharacterOut) {
  const queries = useQueryClient()
  useEffect(() => {
    const look = async () => {
      if (document.hidden || turns.busy(id)) return
      const { number } = await fetchHead(id)
      if (number !== headOf(queries, id).revision.number && !turns.busy(id)) await queries.invalidateQueries({ queryKey: keyOf(id) })
    }
    const timer = setInterval(() => void look().catch(() => undefined), NEWS_EVERY) // without a server there are no news
    return () => clearInterval(timer)
  }, [queries, id])
}

/** The number of the newest revision, once all that this page has asked for is done. */
export function useHead({ id }: CharacterOut): () => Promise<number> {
  const queries = useQueryClient()
  return async () => {
    await turns.settled(id)
    return headOf(queries, id).revision.number
  }
}
