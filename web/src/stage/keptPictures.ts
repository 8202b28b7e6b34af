import { createStore, delMany, entries, getMany, set, type UseStore } from 'idb-keyval'
import { stageQuality } from './quality'

const MOST = 600 // pictures kept; some 6 kB each
const BUILD = __DRAWN_BY__ // what is drawn by other code may look otherwise

interface Kept {
  picture: string
  /** When it was drawn, ms since 1970. */
  at: number
}

let opened: UseStore | undefined
const store = () => (opened ??= createStore('tight-seam', 'pictures'))

/** The key of a picture by all that it depends on: whom it shows, as `drawn` of a character says, and in which pose or from which view. */
export const pictureKeyOf = (drawn: string, shows: string) => `${BUILD} ${stageQuality()} ${drawn} ${shows}`

/** Those pictures that this browser has drawn before, in the order of their keys. A browser that keeps nothing has none. */
export async function keptPictures(keys: string[]): Promise<(string | undefined)[]> {
  try {
    return (await getMany<Kept | undefined>(keys, store())).map((found) => found?.picture)
  } catch {
    return keys.map(() => undefined)
  }
}

let added = 0 // since the page was opened

/** Keep a picture for the next time, in a browser that keeps anything; where there are too many the older half goes. */
export async function keepPicture(key: string, picture: string): Promise<void> {
  try {
    await set(key, { picture, at: Date.now() }, store())
    added += 1
    if (added % (MOST / 4) === 1) await tidy()
  } catch {
    // it is drawn again
  }
}

async function tidy() {
  const all = await entries<string, Kept>(store())
  if (all.length <= MOST) return
  all.sort(([, a], [, b]) => a.at - b.at)
  await delMany(all.slice(0, all.length / 2).map(([key]) => key), store())
}
