import { App, Button, Input, Select, Segmented, Switch } from 'antd'
import { useState } from 'react'
import { fetchHanging, type Bone, type CharacterOut } from '../../api/client'
import { useBench } from '../../state/bench'
import type { useEdit } from '../../state/edits'
import { NumberField } from '../../ui/NumberField'

const ROLES: { value: 'deform' | 'helper'; label: string }[] = [
  { value: 'deform', label: 'Deforms' },
  { value: 'helper', label: 'Helper' },
]
const AXES = ['x', 'y', 'z'] as const
type Span = [number, number]
type Spans = [Span, Span, Span]

interface Props {
  character: CharacterOut
  bone: Bone
  edit: ReturnType<typeof useEdit>
}

/** One bone: name, parent, role, twin, ends, twist and limits. */
export function BoneDetail({ character, bone, edit }: Props) {
  const mirror = useBench((s) => s.mirror)
  const movingEnds = useBench((s) => s.movingEnds)
  const set = useBench((s) => s.set)
  const twin = character.bones.find((b) => b.name === bone.twin)
  const others = character.bones.filter((b) => b.name !== bone.name)
  const { modal, message } = App.useApp()
  /** At once where nothing hangs on them; else only after that has been told. */
  const remove = async (bones: string[]) => {
    const gone = () => edit.mutate({ edit: 'bones.remove', params: { bones } })
    const hanging = await fetchHanging(character.id, character.revision.number, bones).catch((error: Error) => void message.error(error.message))
    if (!hanging) return
    if (!hanging.length) return gone()
    const title = bones.length > 1 ? `Remove ${bone.label} and its twin?` : `Remove ${bone.label}?`
    modal.confirm({ title, content: <ul className="plain">{hanging.map((said) => <li key={said}>{said}</li>)}</ul>, okText: 'Remove', cancelText: 'Keep', onOk: gone })
  }
  return (
    <div className="mark-detail">
      <Naming key={`${bone.name} ${bone.label}`} bone={bone} edit={edit} />
      <div className="bone-field">
        <span>Parent</span>
        <Select
          size="small"
          aria-label="Parent"
          value={bone.parent ?? ''}
          popupMatchSelectWidth={false}
          onChange={(parent) => edit.mutate({ edit: 'bone.set_parent', params: { bone: bone.name, parent: parent || null } })}
          options={[{ value: '', label: 'nothing' }, ...others.map((b) => ({ value: b.name, label: b.label }))]}
        />
      </div>
      <div className="bone-field">
        <span>Role</span>
        <Segmented
          size="small"
          aria-label="Role"
          value={bone.role ?? 'deform'}
          options={ROLES}
          onChange={(role) => edit.mutate({ edit: 'bone.set_role', params: { bone: bone.name, role, mirror } })}
        />
      </div>
      <div className="bone-field">
        <span>Twin</span>
        {twin ? (
          <button className="bare link" onClick={() => set({ bone: twin.name })}>
            {twin.label}
          </button>
        ) : (
          <span className="quiet">none</span>
        )}
      </div>
      <div className="bone-field">
        <span>Move its ends</span>
        <Switch size="small" aria-label="Move its ends" checked={movingEnds} onChange={(movingEnds) => set({ movingEnds })} />
      </div>
      <Twist bone={bone} edit={edit} mirror={mirror} />
      <Limits key={JSON.stringify([bone.turn, bone.move])} bone={bone} edit={edit} mirror={mirror} />
      <div className="row">
        {bone.by_hand && character.skeleton && (
          <Button size="small" onClick={() => edit.mutate({ edit: 'bones.follow_landmarks', params: { bones: twin?.by_hand ? [bone.name, twin.name] : [bone.name] } })}>
            Let landmarks place it
          </Button>
        )}
        <Button size="small" type="text" onClick={() => void remove(twin && mirror ? [bone.name, twin.name] : [bone.name])}>
          Remove{twin && mirror ? ' both' : ''}
        </Button>
      </div>
    </div>
  )
}

function Naming({ bone, edit }: { bone: Bone; edit: Props['edit'] }) {
  const [name, setName] = useState(bone.name)
  const [label, setLabel] = useState(bone.label)
  const changed = name.trim() !== bone.name || label.trim() !== bone.label
  const rename = () =>
    edit.mutate(
      { edit: 'bone.rename', params: { bone: bone.name, name: name.trim(), label: label.trim() } },
      { onSuccess: () => useBench.setState({ bone: name.trim() }) },
    )
  return (
    <>
      <div className="bone-field">
        <span>Label</span>
        <Input size="small" aria-label="Label of the bone" value={label} onChange={(e) => setLabel(e.target.value)} onPressEnter={() => changed && rename()} />
      </div>
      <div className="bone-field">
        <span>Name</span>
        <Input size="small" aria-label="Name of the bone" className="num" value={name} onChange={(e) => setName(e.target.value)} onPressEnter={() => changed && rename()} />
      </div>
      {changed && (
        <Button size="small" onClick={rename} disabled={!name.trim() || !label.trim()}>
          Rename
        </Button>
      )}
    </>
  )
}

function Twist({ bone, edit, mirror }: { bone: Bone; edit: Props['edit']; mirror: boolean }) {
  const [twist, setTwist] = useState(0)
  return (
    <div className="bone-field">
      <span>Twist by</span>
      <span className="row">
        <NumberField label="Twist by" value={twist} low={-180} high={180} unit="°" onChange={setTwist} />
        <Button size="small" disabled={!twist} onClick={() => edit.mutate({ edit: 'bone.place', params: { bone: bone.name, twist, mirror } }, { onSuccess: () => setTwist(0) })}>
          Twist
        </Button>
      </span>
    </div>
  )
}

/** How far it turns and moves, from and to; typed values are kept when the field is left. */
function Limits({ bone, edit, mirror }: { bone: Bone; edit: Props['edit']; mirror: boolean }) {
  const spans = { turn: bone.turn as Spans, move: bone.move as Spans }
  const keep = (kind: 'turn' | 'move', axis: number, end: 0 | 1, value: number) => {
    const next = { ...spans, [kind]: spans[kind].map((s, k) => (k === axis ? (end ? [s[0], value] : [value, s[1]]) : s)) as Spans }
    edit.mutate({ edit: 'bone.set_limits', params: { bone: bone.name, turn: next.turn, move: next.move, mirror } })
  }
  return (
    <table className="limits" aria-label="Limits">
      <tbody>
        {(['turn', 'move'] as const).map((kind) =>
          AXES.map((axis, k) => {
            const scale = kind === 'turn' ? 1 : 10
            const unit = kind === 'turn' ? '°' : 'mm'
            const most = kind === 'turn' ? 180 : 100
            return (
              <tr key={`${kind} ${axis}`}>
                <th>
                  <span className={`axis-letter axis-${axis}`}>{kind === 'turn' ? '↻' : '→'}</span> {kind === 'turn' ? 'Turn' : 'Move'} {axis}
                </th>
                <td>
                  <NumberField label={`${kind} ${axis} from`} value={spans[kind][k]![0] * scale} low={-most} high={0} unit={unit} onChange={(v) => keep(kind, k, 0, v / scale)} />
                </td>
                <td>
                  <NumberField label={`${kind} ${axis} to`} value={spans[kind][k]![1] * scale} low={0} high={most} unit={unit} onChange={(v) => keep(kind, k, 1, v / scale)} />
                </td>
              </tr>
            )
          }),
        )}
      </tbody>
    </table>
  )
}
