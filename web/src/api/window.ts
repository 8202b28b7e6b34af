const KEY = 'tight seam window'

/** Which of somebody's windows asks; it stays the same when the page is loaded again. */
export function windowId(): string {
  const known = sessionStorage.getItem(KEY) ?? crypto.randomUUID()
  sessionStorage.setItem(KEY, known)
  return known
}
