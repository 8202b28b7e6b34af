import { Refused, refusedBy, type Schemas } from './client'

export type ImportOut = Schemas['ImportOut']
export type TargetsOut = Schemas['TargetsOut']

/** A file and its place in the folder it came from. */
export interface Delivered {
  file: File
  path: string
}

export interface Going {
  share: number
  text: string
}

const ASK_EVERY = 250 // ms between two questions how far the server is
const SENDING = 0.3 // of the bar stands for sending, the rest for reading

/** An import under way: its answer, and how to stop it. */
export interface Import<T> {
  done: Promise<T>
  stop: () => void
}

/** Send files of a head. */
export const startImport = (files: Delivered[], onProgress: (going: Going) => void) => sent<ImportOut>((token) => `/api/imports/${token}`, files, onProgress)

/** Send targets of a head's parts, to become shapes. */
export const startTargets = (id: number, base: number, files: Delivered[], onProgress: (going: Going) => void) =>
  sent<TargetsOut>((token) => `/api/characters/${id}/shapes/targets/${token}?base=${base}`, files, onProgress)

/** Send delivered files and follow the server while it reads them. */
function sent<T>(to: (token: string) => string, files: Delivered[], onProgress: (going: Going) => void): Import<T> {
  const token = crypto.randomUUID()
  const address = `/api/imports/${token}`
  const request = new XMLHttpRequest()
  let timer = 0
  const follow = async () => {
    const answer = await fetch(address).catch(() => null)
    if (answer?.ok && request.readyState !== XMLHttpRequest.DONE) {
      const { share, text } = (await answer.json()) as Going
      onProgress({ share: SENDING + share * (1 - SENDING), text })
    }
  }
  const done = new Promise<T>((resolve, reject) => {
    request.upload.onprogress = (e) => {
      if (e.lengthComputable) onProgress({ share: (e.loaded / e.total) * SENDING, text: 'Sending' })
    }
    request.upload.onload = () => {
      timer = window.setInterval(() => void follow(), ASK_EVERY)
    }
    request.onload = () => {
      const body = parsed(request.responseText)
      if (request.status === 200) resolve(body as T)
      else reject(refusedBy(body, `The server answered ${request.status}.`))
    }
    request.onerror = () => reject(new Refused('The server does not answer. Is it still running?'))
    request.onabort = () => reject(new Refused('Stopped. Nothing was stored.'))
    request.onloadend = () => window.clearInterval(timer)
  })
  const form = new FormData()
  for (const { file, path } of files) {
    form.append('files', file)
    form.append('paths', path)
  }
  request.open('POST', to(token))
  request.send(form)
  // while files are still being sent the server knows nothing of the import: cutting the line is enough
  const stop = () => void fetch(address, { method: 'DELETE' }).then((answer) => answer.ok || request.abort())
  return { done, stop }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return null
  }
}

/** Files of a drop, folders opened up; plain files where what is dropped has no place in a folder, as from another page. */
export async function droppedFiles(transfer: DataTransfer): Promise<Delivered[]> {
  // a drop can be read only while its event lasts: nothing is awaited before all items are taken
  const taken = [...transfer.items].map((item) => {
    const entry = item.webkitGetAsEntry()
    if (entry) return filesOf(entry)
    const file = item.getAsFile()
    return file ? [{ file, path: file.name }] : []
  })
  return (await Promise.all(taken)).flat()
}

/** Files chosen in a dialog. */
export const chosenFiles = (list: FileList | null): Delivered[] =>
  [...(list ?? [])].map((file) => ({ file, path: file.webkitRelativePath || file.name }))

async function filesOf(entry: FileSystemEntry): Promise<Delivered[]> {
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject))
    return [{ file, path: entry.fullPath.replace(/^\//, '') }]
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader()
  const found: Delivered[] = []
  // a reader hands out a folder in batches, the last of them empty
  for (;;) {
    const batch = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject))
    if (!batch.length) return found
    found.push(...(await Promise.all(batch.map(filesOf))).flat())
  }
}
