import { Checkbox } from 'antd'
import { useEffect } from 'react'
import type { Bone, CharacterOut } from '../../api/client'
import { passes } from '../../stage/bonesView'
import { useNudge } from '../../stage/tools/useNudge'
import { useBench } from '../../state/bench'
import { useEdit } from '../../state/edits'
import { useLandmarks } from '../../state/landmarks'
import { BoneDetail } from './BoneDetail'
import { BoneFindings } from './BoneFindings'
import { BuildForm } from './BuildForm'
import { inPairs, PairRow, unsided } from './PairRow'
import { SkeletonTools } from './SkeletonTools'

const REGIONS: [string, string][] = [
  ['neck', 'Neck'], ['head', 'Head'], ['jaw', 'Jaw'], ['eyes', 'Eyes'], ['lids', 'Lids'], ['brows', 'Brows'], ['mouth', 'Mouth'], ['cheeks', 'Cheeks'], ['nose', 'Nose'],
  ['ears', 'Ears'], ['teeth', 'Teeth'], ['tongue', 'Tongue'], ['other', 'Other'],
]

/** The bones: built from landmarks, checked, shown by region and role, picked, posed and changed. */
export function BonesTab({ character }: { character: CharacterOut }) {
  const set = useBench((s) => s.set)
  const filter = useBench((s) => s.boneFilter)
  const picked = useBench((s) => s.bone)
  const edit = useEdit(character)
  const { data } = useLandmarks(character)
  useNudge(character, useBench((s) => s.hoveredBone))
  // whoever works on bones wants to see them
  useEffect(() => useBench.setState((s) => ({ display: { ...s.display, bones: true } })), [])
  const bones = character.bones
  const regions = REGIONS.filter(([key]) => bones.some((b) => (b.region ?? 'other') === key))
  const flip = (region: string) => {
    const all = new Set(filter.regions ?? regions.map(([key]) => key))
    if (!all.delete(region)) all.add(region)
    set({ boneFilter: { ...filter, regions: all.size === regions.length ? null : all } })
  }
  return (
    <section aria-label="Bones" aria-busy={edit.isPending}>
      <BuildForm character={character} edit={edit} placed={data ? data.marks.every((m) => m.placed) : true} />
      {bones.length > 0 && (
        <>
          <BoneFindings character={character} />
          <h3>
            Shown <span className="quiet num">{bones.filter((b) => passes(b, filter)).length} of {bones.length}</span>
          </h3>
          <div className="region-chips">
            {regions.map(([key, label]) => (
              <button key={key} className="chip" aria-pressed={filter.regions === null || filter.regions.has(key)} onClick={() => flip(key)}>
                {label}
              </button>
            ))}
          </div>
          <div className="row bone-shows">
            {(
              [
                ['deform', 'Deform'],
                ['helper', 'Helpers'],
                ['behind', 'Behind the surface'],
                ['axes', 'Axes'],
              ] as const
            ).map(([key, label]) => (
              <Checkbox key={key} checked={filter[key]} onChange={(e) => set({ boneFilter: { ...filter, [key]: e.target.checked } })}>
                {label}
              </Checkbox>
            ))}
          </div>
          {regions.map(([key, label]) => {
            const own = bones.filter((b) => (b.region ?? 'other') === key && passes(b, filter))
            return (
              own.length > 0 && (
                <div key={key}>
                  <h3>{label}</h3>
                  {inPairs(own, (b) => b.twin).map((pair) => {
                    const open = pair.find((b) => b.name === picked)
                    return (
                      <PairRow
                        key={pair[0]!.name}
                        label={pair.length > 1 ? unsided(pair[0]!.label) : pair[0]!.label}
                        items={pair.map(itemOf)}
                        open={picked}
                        onPick={(bone) => set({ bone: picked === bone ? null : bone, movingEnds: false })}
                        onHover={(hoveredBone) => set({ hoveredBone })}
                      >
                        {open && <BoneDetail key={open.name} character={character} bone={open} edit={edit} />}
                      </PairRow>
                    )
                  })}
                </div>
              )
            )
          })}
          <SkeletonTools character={character} edit={edit} />
        </>
      )}
    </section>
  )
}

function itemOf(bone: Bone) {
  const role = bone.role === 'helper' ? 'Helper: deforms nothing' : 'Deforms'
  return {
    name: bone.name,
    label: bone.label,
    side: bone.side === 'C' ? '' : (bone.side ?? ''),
    sign: `bone-sign ${bone.role}`,
    title: bone.by_hand ? `${role}. Its ends were set by hand.` : role,
  }
}
