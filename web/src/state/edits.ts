import { App } from 'antd'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { fetchCharacter, Refused, sendEdit, sendRedo, sendUndo, type CharacterOut, type Step } from '../api/client'

/** Runs a change on the character; a refusal is said in the server's words, and a stale one brings in what others did. */
function useChange<T>(character: CharacterOut, run: (input: T) => Promise<CharacterOut>) {
  const { message } = App.useApp()
  const queries = useQueryClient()
  const key = ['character', character.id]
  return useMutation({
    mutationFn: run,
    onSuccess: (changed) => queries.setQueryData(key, changed),
    onError: async (error) => {
      void message.error(error.message, 6)
      if (error instanceof Refused && error.status === 409) queries.setQueryData(key, await fetchCharacter(character.id))
    },
  })
}

export const useEdit = (character: CharacterOut) =>
  useChange(character, (step: Step) => sendEdit(character.id, character.revision.number, step))

export const useUndo = (character: CharacterOut) => useChange(character, () => sendUndo(character.id, character.revision.number))

export const useRedo = (character: CharacterOut) => useChange(character, () => sendRedo(character.id, character.revision.number))
