import { useEffect, useId, useRef, useState } from 'react'
import { useBench, type BenchState } from './bench'
import { Questions } from './questions'

const LONGEST = 400 // ms
// as long as the answer took: half of the time is the stage's
const questions = new Questions((took) => new Promise((done) => setTimeout(done, Math.min(took, LONGEST))))

interface Known<T> {
  about: string
  data?: T
  error: Error | null
}

interface Answer<T> {
  data: T | undefined
  error: Error | null
  late: boolean
}

/**
 * The answer to the newest question. It hangs on `key`, and on what is `seen` of the bench, such as its pose: that is looked at when the
 * question is asked, so that a panel is not drawn anew for each step of a hand. Answers in between are shown as they come, and the last
 * one stays in sight as long as it is about the same thing: `late` says that the newest is still to come.
 */
export function useNewest<T>(about: string, key: readonly unknown[], ask: () => Promise<T>, wanted?: boolean): Answer<T>
export function useNewest<T, V>(about: string, key: readonly unknown[], ask: (seen: V) => Promise<T>, wanted: boolean, seen: (state: BenchState) => V): Answer<T>
export function useNewest<T, V>(about: string, key: readonly unknown[], ask: (seen: V) => Promise<T>, wanted = true, seen?: (state: BenchState) => V): Answer<T> {
  const asker = useId()
  const asked = JSON.stringify([about, ...key])
  const [known, setKnown] = useState<Known<T>>({ about, error: null })
  const [answered, setAnswered] = useState('')
  const latest = useRef({ ask, seen })
  useEffect(() => {
    latest.current = { ask, seen }
  })
  useEffect(() => () => questions.drop(asker), [asker])
  useEffect(() => {
    if (!wanted) return questions.drop(asker)
    const state = { gone: false, looked: '' }
    const seenNow = () => latest.current.seen?.(useBench.getState()) as V
    const look = () => {
      const now = JSON.stringify(seenNow() ?? null)
      if (now === state.looked) return
      state.looked = now
      setAnswered('')
      questions.ask(asker, async () => {
        const found = await latest.current.ask(seenNow()).then(
          (data) => ({ data, error: null }),
          (error: Error) => ({ data: undefined, error }),
        )
        if (state.gone) return
        setKnown({ about, ...found })
        if (state.looked === now) setAnswered(asked)
      })
    }
    look()
    const forget = useBench.subscribe(look)
    return () => {
      state.gone = true
      forget()
    }
  }, [asker, about, asked, wanted])
  const same = known.about === about
  return { data: same ? known.data : undefined, error: same ? known.error : null, late: wanted && answered !== asked }
}
