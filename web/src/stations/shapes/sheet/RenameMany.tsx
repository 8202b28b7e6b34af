import { Input, Modal } from 'antd'
import { useState } from 'react'
import type { useEdit } from '../../../state/edits'
import { renamed } from './rows'

interface Props {
  names: string[]
  edit: ReturnType<typeof useEdit>
  onClose: () => void
}

/** Other names for the chosen shapes: typed for one, a text put in place of another for several. */
export function RenameMany({ names, edit, onClose }: Props) {
  const one = names.length === 1
  const [find, setFind] = useState(one ? (names[0] ?? '') : '')
  const [put, setPut] = useState(one ? (names[0] ?? '') : '')
  const after = renamed(names, find, put)
  const rename = () => edit.mutate({ edit: 'shape.rename', params: { names: after } }, { onSuccess: onClose })
  return (
    <Modal open title={one ? `Rename ${names[0]}` : `Rename ${names.length} shapes`} okText="Rename" okButtonProps={{ disabled: !Object.keys(after).length, loading: edit.isPending }} onOk={rename} onCancel={onClose}>
      <div onKeyDown={(e) => e.stopPropagation()}>
        {!one && <Input aria-label="Text to find" placeholder="Text to find" value={find} onChange={(e) => setFind(e.target.value)} />}
        <Input aria-label="New name" placeholder="Text to put in its place" value={put} maxLength={80} onChange={(e) => setPut(e.target.value)} onPressEnter={rename} />
        <ul className="names">
          {Object.entries(after).map(([old, now]) => (
            <li key={old}>
              <span>{old}</span> → <b>{now}</b>
            </li>
          ))}
        </ul>
      </div>
    </Modal>
  )
}
