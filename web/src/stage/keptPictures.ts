import { createStore, delMany, entries, getMany, set, type UseStore } from 'idb-keyval'
import { stageQuality } from './quality'

const MOST = 600 // pictures kept; some 6 kB each
const BUILD = import.meta.url // another build may draw otherwise

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
  const found = await getMany<Kept>(keys, store()).catch(() => [])
  return keys.map((_, k) => found[k]?.picture)
}

/** Keep a picture for the next time; where there are too many the older half goes. */
export async function keepPicture(key: string, picture: string): Promise<void> {
  await set(key, { picture, at: Date.now() }, store()).catch(() => undefined)
  kept += 1
  if (kept % (MOST / 4) === 1) await tidy().catch(() => undefined)
}

let kept = 0 // since the page was opened

async function tidy() {
  const all = await entries<string, Kept>(store())
  if (all.length <= MOST) return
  all.sort(([, a], [, b]) => a.at - b.at)
  await delMany(all.slice(0, all.length / 2).map(([key]) => key), store())
}
