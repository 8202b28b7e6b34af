import { useEffect, useState } from 'react'
import { Outlet, useNavigate } from 'react-router-dom'
import { droppedFiles } from '../api/imports'
import { useDropped } from '../state/dropped'

const withFiles = (e: DragEvent) => e.dataTransfer?.types.includes('Files') && !e.defaultPrevented // not what has a place of its own

/** Files let go anywhere go to the shelf, where they become a head: the browser would leave the page for them. */
export function DropAnywhere() {
  const navigate = useNavigate()
  const [over, setOver] = useState(false)
  useEffect(() => {
    const above = (e: DragEvent) => {
      const ours = Boolean(withFiles(e))
      if (ours) e.preventDefault()
      setOver(ours)
    }
    const gone = (e: DragEvent) => e.relatedTarget === null && setOver(false)
    const dropped = (e: DragEvent) => {
      setOver(false)
      if (!withFiles(e)) return
      e.preventDefault()
      void droppedFiles(e.dataTransfer!).then((files) => {
        useDropped.getState().add(files)
        void navigate('/')
      })
    }
    window.addEventListener('dragover', above)
    window.addEventListener('dragleave', gone)
    window.addEventListener('drop', dropped)
    return () => {
      window.removeEventListener('dragover', above)
      window.removeEventListener('dragleave', gone)
      window.removeEventListener('drop', dropped)
    }
  }, [navigate])
  return (
    <>
      <Outlet />
      {over && <div className="drop-anywhere">Let go here, and it is put on the shelf as a head of its own</div>}
    </>
  )
}
