import { useEffect, useId, useRef, useState } from 'react'
import { Questions } from './questions'

const questions = new Questions()

interface Known<T> {
  about: string
  key: string
  data?: T
  error: Error | null
}

/**
 * The answer to the newest question; `key` is all that it hangs on. While a hand goes on the answers in between are shown as they come, and
 * the last one stays in sight as long as it is about the same thing: `late` says that the newest is still to come.
 */
export function useNewest<T>(about: string, key: readonly unknown[], ask: () => Promise<T>, wanted = true): { data: T | undefined; error: Error | null; late: boolean } {
  const asker = useId()
  const asked = JSON.stringify([about, ...key])
  const [known, setKnown] = useState<Known<T>>({ about, key: '', error: null })
  const open = useRef(true)
  useEffect(() => {
    open.current = true
    return () => {
      open.current = false
      questions.drop(asker)
    }
  }, [asker])
  useEffect(() => {
    if (!wanted) return questions.drop(asker)
    questions.ask(asker, async () => {
      const found = await ask().then(
        (data) => ({ data, error: null }),
        (error: Error) => ({ data: undefined, error }),
      )
      if (open.current) setKnown({ about, key: asked, ...found })
    })
    // `ask` is made anew with each rendering, and hangs on nothing but the key
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [asker, asked, wanted])
  const same = known.about === about
  return { data: same ? known.data : undefined, error: same ? known.error : null, late: wanted && known.key !== asked }
}
