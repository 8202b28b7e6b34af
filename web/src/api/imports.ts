import type { CharacterOut } from './client'
import { Refused, refusedBy } from './http'
import { followed, type Job } from './jobs'
import { windowId } from './window'

/** A new character, and what the rigger should know about how it came. */
export interface TakenIn {
  character: number
  name: string
  notes: string[]
}

/** What became of one file of targets. */
export interface TargetReport {
  file: string
  shapes: string[]
  notes: string[]
  refused: string | null
}

/** A file and its place in the folder it came from. */
export interface Delivered {
  file: File
  path: string
}

/** How far it is: files are sent, then a job takes them in. */
export interface Going {
  share: number
  text: string
}

const SENDING = 0.3 // of the bar stands for sending, the rest for reading

/** Sends files of a head. */
export const takeIn = (files: Delivered[], onGoing: (going: Going) => void, stop: AbortSignal) => sent<TakenIn>('/api/imports', files, onGoing, stop)

/** The same with targets of a head's parts, to become shapes. */
export const takeTargets = ({ id, revision }: CharacterOut, files: Delivered[], onGoing: (going: Going) => void, stop: AbortSignal) =>
  sent<{ reports: TargetReport[] }>(`/api/characters/${id}/shapes/targets?base=${revision.number}`, files, onGoing, stop)

/** The same with a body to stand on; without a file the stand-in that ships. */
export const joinBody = ({ id, revision }: CharacterOut, files: Delivered[], onGoing: (going: Going) => void, stop: AbortSignal) =>
  sent<{ notes: string[] }>(`/api/characters/${id}/body?base=${revision.number}`, files, onGoing, stop)

async function sent<T>(address: string, files: Delivered[], onGoing: (going: Going) => void, stop: AbortSignal): Promise<T> {
  const job = await upload(address, files, (share) => onGoing({ share: share * SENDING, text: 'Sending' }), stop)
  const done = await followed(job, stop, ({ share, text }) => onGoing({ share: SENDING + share * (1 - SENDING), text }))
  return done.result as T
}

/** The browser's fetch does not tell how much is sent. */
function upload(address: string, files: Delivered[], onSending: (share: number) => void, stop: AbortSignal): Promise<Job> {
  const request = new XMLHttpRequest()
  const form = new FormData()
  for (const { file, path } of files) {
    form.append('files', file)
    form.append('paths', path)
  }
  return new Promise((resolve, reject) => {
    request.upload.onprogress = (e) => {
      if (e.lengthComputable) onSending(e.loaded / e.total)
    }
    request.onload = () => {
      const body = parsed(request.responseText)
      if (request.status < 300) resolve(body as Job)
      else reject(refusedBy(body, `The server answered ${request.status}.`))
    }
    request.onerror = () => reject(new Refused('The server does not answer. Is it still running?'))
    request.onabort = () => reject(new Refused('Stopped. Nothing was stored.'))
    stop.addEventListener('abort', () => request.abort())
    request.open('POST', address)
    request.setRequestHeader('X-Window', windowId())
    request.send(form)
  })
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
