import { App, Button, Dropdown, Modal } from 'antd'
import { useState } from 'react'
import { fetchLeftOut, saveFile, type CharacterOut, type LeftOut } from '../api/client'

type Played = 'glb' | 'usd'
const isPlayed = (kind: string): kind is Played => kind === 'glb' || kind === 'usd'

/** Files out, and what one that plays bones and shapes cannot say by these alone. */
export function Export({ character }: { character: CharacterOut }) {
  const { message } = App.useApp()
  const [told, setTold] = useState<{ kind: Played; left: LeftOut[] } | null>(null)
  const motion = character.poses.length ? ' with range of motion' : ''
  const files = [
    { key: 'glb', label: `GLB${motion}` },
    { key: 'usd', label: `USD${motion}` },
    { key: 'obj', label: 'OBJ, neutral only' },
    { key: 'seam', label: 'Character file' },
  ]
  const save = async (kind: string) => {
    try {
      await saveFile(`/api/characters/${character.id}/export.${kind}`)
      if (!isPlayed(kind)) return
      const left = await fetchLeftOut(character.id, kind)
      if (left.length) setTold({ kind, left })
    } catch (error) {
      void message.error((error as Error).message, 8)
    }
  }
  return (
    <>
      <Dropdown menu={{ items: files, onClick: ({ key }) => void save(key) }} trigger={['click']}>
        <Button size="small">Export</Button>
      </Dropdown>
      <Modal
        open={told !== null}
        title={`What bones and shapes leave out of this ${told?.kind.toUpperCase() ?? ''}`}
        onCancel={() => setTold(null)}
        footer={<Button onClick={() => setTold(null)}>Close</Button>}
      >
        <p>
          In {told?.left.length === 1 ? 'this test pose' : 'these test poses'} the file is right by a shape of the pose&rsquo;s own. Between poses, and where its bones and shapes are moved by hand, it goes without. Without it these poses
          would be off by up to
        </p>
        <div className="left-out">
          <table>
            <thead>
              <tr>
                <th>pose</th>
                <th>part</th>
                <th>mm</th>
              </tr>
            </thead>
            <tbody>
              {told?.left.map(({ pose, part, mm }) => (
                <tr key={pose}>
                  <td>{pose}</td>
                  <td>{part}</td>
                  <td className="num">{mm.toFixed(2)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </Modal>
    </>
  )
}
