import type { RefObject } from 'react'
import { chosenFiles, type Delivered } from '../api/imports'

interface Props {
  /** A button opens it by this. */
  input: RefObject<HTMLInputElement | null>
  label: string
  accept?: string
  multiple?: boolean
  onChoose: (files: [Delivered, ...Delivered[]]) => void
}

/** The browser's own way to choose files, without its looks. The same can be chosen again; choosing none does nothing. */
export function FileInput({ input, label, accept, multiple, onChoose }: Props) {
  return (
    <input
      ref={input}
      type="file"
      hidden
      multiple={multiple}
      accept={accept}
      aria-label={label}
      onChange={({ target }) => {
        const [first, ...more] = chosenFiles(target.files)
        target.value = ''
        if (first) onChoose([first, ...more])
      }}
    />
  )
}
