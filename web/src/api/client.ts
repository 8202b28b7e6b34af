import { saveBlob } from '../ui/saveBlob'
import { changed } from './changes'
import { ACCEPTED, client, done, refusal, wanted, type Answer, type Schemas } from './http'
import { nameIn } from './disposition'
import { followed, type Job } from './jobs'
import { windowId } from './window'

export { Refused } from './http'
export type { Schemas } from './http'
export type CharacterOut = Schemas['CharacterOut']
type CharacterChange = Schemas['CharacterChange']
export type ShelfEntry = Schemas['ShelfEntry']
export type DamagedEntry = Schemas['DamagedEntry']
export type MeasureOut = Schemas['PoseReport']
export type Uneven = Schemas['Uneven']
export type Reading = Schemas['Reading']
export type SkinReading = Schemas['SkinReading']
export type Finding = Schemas['Finding']
export type Repair = Schemas['Repair']
export type Station = 'bones' | 'weights' | 'lids' | 'jaw' | 'shapes'
export type Seam = Schemas['Seam']
export type Control = Schemas['Control']
export type Pose = Schemas['Pose']
export type PartOut = Schemas['PartOut']
export type PullOut = Schemas['PullOut']
export type PullRow = Schemas['PullRowOut']
export type Step = Schemas['EditIn']['step']
export type CheckInOut = Schemas['CheckInOut']
export type Check = Schemas['Check']
export type LimitOut = Schemas['LimitOut']
export type PreviewOut = Schemas['PreviewOut']
export type EyeSeat = Schemas['EyeSeatOut']
export type Proposal = Schemas['Proposal']
export type LandmarksOut = Schemas['LandmarksOut']
export type Mark = Schemas['MarkOut']
export type Bone = Schemas['Bone']
export type Skeleton = Schemas['Skeleton']
export type SideCut = Schemas['SideCutOut']
export type Cut = Schemas['CutOut']
export type LidBoard = Schemas['BoardOut']
export type LidCell = Schemas['Cell']
export type EyeLids = Schemas['EyeLidsOut']
export type CurveKey = Schemas['CurveKey']
export type GazeFollow = Schemas['GazeFollow']
export type DriverError = Schemas['DriverError']
export type LidDriver = Schemas['LidDriver']
export type LidCut = Schemas['LidCutOut']
export type LidMap = Schemas['MapOf']
export type JawSetUp = Schemas['JawOut']
export type Relief = Schemas['ReliefOut']
export type Driven = Schemas['DrivenOut']
export type JawCurves = Schemas['CurvesOut']
export type JawCut = Schemas['JawCutOut']
export type ReliefNeed = Schemas['NeedOut']
export type NeckReport = Schemas['NeckReport']
export type BakeError = Schemas['BakeError']
export type SheetRow = Schemas['ShapeRow']
export type ShapesOut = Schemas['ShapesOut']
export type NameList = Schemas['ListOut']
export type NamesOut = Schemas['NamesOut']
export type Link = NonNullable<Control['links']>[number]
export type Pad = Schemas['Pad']
export type ControlsOut = Schemas['ControlsOut']
export type Take = Schemas['TakeOut']
export type Followed = Schemas['FollowedTake']
export type TakeReport = Schemas['TakeReport']
export type TakeFault = Schemas['TakeFault']
export type MixReport = Schemas['MixReport']
export type BoardEnd = Schemas['BoardEnd']
export type BoardFinding = Schemas['BoardFinding']
export type BoardCause = Schemas['BoardCause']
export type MixChange = Schemas['MixChange']
export type Mending = Schemas['Mending']
export type AllRepaired = Schemas['AllRepaired']
export type Activation = Schemas['Activation']
export type Shape = Schemas['ShapeOut']
export type CapOut = Schemas['CapOut']
export type Profile = Schemas['ProfileOut']
export type LeftOut = Schemas['LeftOutOut']
export type MixOut = Schemas['MixOut']
export type PlaceLine = Schemas['LineOut']

/** What a job has to make where it is not kept: asked for again once that is done. An `abort` takes the wish back. */
async function made<T>(ask: () => Answer, abort?: AbortSignal): Promise<T> {
  for (;;) {
    const { data, error, response } = await ask()
    if (data === undefined) throw await refusal(response, error)
    if (response.status !== ACCEPTED) return data as T
    await followed(data as Job, abort)
  }
}

const ofRevision = (id: number, revision: number) => ({ params: { path: { id }, query: { revision } } })

const at = (id: number) => ({ params: { path: { id } } })

export const fetchShelf = () => wanted<(ShelfEntry | DamagedEntry)[]>(client.GET('/api/characters'))

export const fetchCharacter = (id: number) => wanted<CharacterOut>(client.GET('/api/characters/{id}', at(id)))

/** The newest revision, whoever made it. */
export const fetchHead = (id: number) => wanted<Schemas['RevisionOut']>(client.GET('/api/characters/{id}/head', at(id)))

const afterChange = async (head: CharacterOut, told: CharacterChange) => changed(head, told) ?? (await fetchCharacter(head.id))

/** What an edit of revision `base` makes of a character. A long one is made by a job; then the character is asked for. */
export async function sendEdit(head: CharacterOut, step: Step, base = head.revision.number): Promise<CharacterOut> {
  const { data, error, response } = await client.POST('/api/characters/{id}/edits', { ...at(head.id), body: { base, step } })
  if (data === undefined) throw await refusal(response, error)
  if (response.status !== ACCEPTED && base === head.revision.number) return afterChange(head, data as CharacterChange)
  if (response.status === ACCEPTED) await followed(data as Job)
  return fetchCharacter(head.id)
}

const baseOf = (head: CharacterOut) => ({ ...at(head.id), body: { base: head.revision.number } })

export const sendUndo = async (head: CharacterOut) =>
  afterChange(head, await wanted<CharacterChange>(client.POST('/api/characters/{id}/undo', baseOf(head))))

export const sendRedo = async (head: CharacterOut) =>
  afterChange(head, await wanted<CharacterChange>(client.POST('/api/characters/{id}/redo', baseOf(head))))

export const fetchMeasure = (id: number, revision: number, pose: string) =>
  wanted<MeasureOut>(client.POST('/api/characters/{id}/measure', { ...at(id), body: { revision, pose, values: {} } }))

export const fetchMeasureAt = (id: number, revision: number, values: Record<string, number>) =>
  wanted<MeasureOut>(client.POST('/api/characters/{id}/measure', { ...at(id), body: { revision, pose: null, values } }))

export const fetchPull = (id: number, revision: number, part: string, vertices: number[], values: Record<string, number>) =>
  wanted<PullOut>(client.POST('/api/characters/{id}/pull', { ...at(id), body: { revision, part, vertices, values } }))

/** Every closing of the lids against every gaze, with a line or a gaze follow that is being drawn, or exactly where nothing is. */
export const fetchLidBoard = (id: number, revision: number, line: Schemas['TriedLine'] | null, follow: Schemas['TriedFollow'] | null, exact: boolean) =>
  wanted<LidBoard>(client.POST('/api/characters/{id}/lids/board', { ...at(id), body: { revision, values: {}, line, follow, exact } }))

/** How far an eye's lids would be from the arc, for each number of in-betweens and for bones. */
export const fetchLidDrivers = (id: number, revision: number, side: EyeLids['side'], abort: AbortSignal) =>
  made<DriverError[]>(() => client.GET('/api/characters/{id}/lids/drivers', { params: { path: { id }, query: { revision, side } } }), abort)

/** A flat cut through lids, `place` from the inner (0) to the outer corner (1). */
export const fetchLidCut = (id: number, revision: number, side: EyeLids['side'], place: number, values: Record<string, number>) =>
  wanted<LidCut>(client.POST('/api/characters/{id}/lids/section', { ...at(id), body: { revision, side, at: place, values } }))

/** How the jaw moves, reliefs and lips. */
export const fetchJaw = (id: number, revision: number) => wanted<JawSetUp>(client.GET('/api/characters/{id}/jaw', ofRevision(id, revision)))

/** What the lower face does over the opening of the jaw, beside what `values` of controls do. */
export const fetchJawCurves = (id: number, revision: number, values: Record<string, number>) =>
  wanted<JawCurves>(client.POST('/api/characters/{id}/jaw/curves', { ...at(id), body: { revision, values } }))

export const fetchJawCut = (id: number, revision: number, cut: 'cheeks' | 'middle', place: number, values: Record<string, number>) =>
  wanted<JawCut>(client.POST('/api/characters/{id}/jaw/section', { ...at(id), body: { revision, cut, at: place, values } }))

export const fetchReliefNeeds = (id: number, revision: number) => wanted<ReliefNeed[]>(client.GET('/api/characters/{id}/jaw/needs', ofRevision(id, revision)))

/** How hard the head stays above a line, cm up the neutral; above the usual one without. */
export const fetchNeck = (id: number, revision: number, line: number | null) =>
  wanted<NeckReport>(client.GET('/api/characters/{id}/jaw/neck', { params: { path: { id }, query: { revision, line } } }))

/** How far off shapes are that stand in for reliefs and lips. */
export const fetchBaked = (id: number, revision: number, abort: AbortSignal) =>
  made<BakeError[]>(() => client.GET('/api/characters/{id}/jaw/baked', ofRevision(id, revision)), abort)

/** All shapes in a row each, and the order of deformation of the parts they move. */
export const fetchShapes = (id: number, revision: number) => wanted<ShapesOut>(client.GET('/api/characters/{id}/shapes', ofRevision(id, revision)))

export const fetchNameLists = () => wanted<NameList[]>(client.GET('/api/name-lists'))

/** A name list that ships by its key, or the text of a file. */
export type ChosenList = { key: string } | { file: string; text: string }

export const fetchNames = (id: number, revision: number, list: ChosenList) =>
  wanted<NamesOut>(client.POST('/api/characters/{id}/shapes/names', { ...at(id), body: { revision, key: null, file: '', text: '', ...list } }))

/** What would be left of taking a pose of the bones out of a shape, mm. */
export const fetchLeft = (id: number, revision: number, shape: string, values: Record<string, number>) =>
  wanted<Schemas['LeftOut']>(client.POST('/api/characters/{id}/shapes/left', { ...at(id), body: { revision, shape, values } }))

/** Lines of the face plan, and the curves of links. */
export const fetchControls = (id: number, revision: number) => wanted<ControlsOut>(client.GET('/api/characters/{id}/controls', ofRevision(id, revision)))

export const fetchTakes = () => wanted<Take[]>(client.GET('/api/takes'))

/** A take as values of controls; with a mapping of one's own, or matched by names. */
export const fetchFollowed = (id: number, revision: number, take: string, mapping: Record<string, string | null> | null, smooth: number) =>
  wanted<Followed>(client.POST('/api/characters/{id}/takes', { ...at(id), body: { revision, take, mapping, smooth } }))

/** Every frame of a take measured. */
export const fetchMeasuredTake = (id: number, revision: number, take: string, mapping: Record<string, string | null> | null, smooth: number) =>
  made<TakeReport>(() => client.POST('/api/characters/{id}/takes/measured', { ...at(id), body: { revision, take, mapping, smooth } }))

export const fetchCheckIn = (id: number, revision: number, abort: AbortSignal) =>
  made<CheckInOut>(() => client.GET('/api/characters/{id}/checkin', ofRevision(id, revision)), abort)

export const fetchPreview = (id: number, base: number, step: Step) =>
  made<PreviewOut>(() => client.POST('/api/characters/{id}/preview', { ...at(id), body: { base, step } }))

export const fetchSeats = (id: number, revision: number) => wanted<EyeSeat[]>(client.GET('/api/characters/{id}/eyes', ofRevision(id, revision)))

export const fetchProposals = (id: number, revision: number, side: EyeLids['side'], abort: AbortSignal) =>
  made<Proposal[]>(() => client.GET('/api/characters/{id}/eyes/{side}/proposals', { params: { path: { id, side }, query: { revision } } }), abort)

export const fetchCut = (id: number, revision: number, side: string, gaze: number) =>
  wanted<Cut>(client.GET('/api/characters/{id}/eyes/{side}/cut', { params: { path: { id, side }, query: { revision, gaze } } }))

export const fetchLandmarks = (id: number, revision: number) =>
  wanted<LandmarksOut>(client.GET('/api/characters/{id}/landmarks', ofRevision(id, revision)))

export const fetchSideCut = (id: number, revision: number, name: string) =>
  wanted<SideCut>(client.GET('/api/characters/{id}/landmarks/{name}/cut', { params: { path: { id, name }, query: { revision } } }))

export type SelectIn = Schemas['SelectIn']
export type SelectionOut = Schemas['SelectionOut']

export const fetchSelect = (id: number, body: SelectIn) =>
  wanted<{ vertices: number[] }>(client.POST('/api/characters/{id}/select', { ...at(id), body }))

export const fetchSelection = (id: number, revision: number, part: string, vertices: number[]) =>
  wanted<SelectionOut>(client.POST('/api/characters/{id}/selection', { ...at(id), body: { revision, part, vertices } }))

export const fetchWeightRows = (id: number, revision: number, part: string, vertices: number[]) =>
  wanted<Schemas['TableOut']>(client.POST('/api/characters/{id}/weights/table', { ...at(id), body: { revision, part, vertices } }))

/** Give a part the weights of a CSV table. */
export async function sendWeightCsv(head: CharacterOut, part: string, match: string, file: File): Promise<CharacterOut> {
  const form = new FormData()
  form.append('file', file)
  const query = new URLSearchParams({ base: String(head.revision.number), part, match })
  const response = await fetch(`/api/characters/${head.id}/weights.csv?${query.toString()}`, { method: 'POST', body: form })
  if (!response.ok) throw await refusal(response)
  return afterChange(head, (await response.json()) as CharacterChange)
}

export const fetchIslands = (id: number, revision: number, part: string) =>
  wanted<Schemas['IslandOut'][]>(client.GET('/api/characters/{id}/islands', { params: { path: { id }, query: { revision, part } } }))

/** Saves what an address gives, once it is made; a refusal is thrown in the server's words. */
export async function saveFile(address: string): Promise<void> {
  let response = await fetch(address, { headers: { 'X-Window': windowId() } })
  while (response.status === ACCEPTED) {
    await followed((await response.json()) as Job)
    response = await fetch(address)
  }
  if (!response.ok) throw await refusal(response)
  const name = nameIn(response.headers.get('Content-Disposition') ?? '')
  saveBlob(await response.blob(), name ?? 'character')
}

/** Receivers whose limits ship with the application. */
export const fetchProfiles = () => wanted<Profile[]>(client.GET('/api/profiles'))

/** What of a revision offends the limits of a receiver: one that ships, or an own one as the text of its file. */
export const fetchOffences = (id: number, revision: number, profile: string, own: string | null) =>
  wanted<Finding[]>(client.POST('/api/characters/{id}/offences', { ...at(id), body: { revision, profile, own } }))

export type PackageOut = Schemas['PackageOut']
export type ArrivedOut = Schemas['ArrivedOut']
export type LeaveOut = Required<Schemas['LeaveOutIn']>

/** What the receiver of a revision gets, made and measured. */
export const sendPackage = (id: number, revision: number, profile: string, own: string | null, less: LeaveOut) =>
  made<PackageOut>(() => client.POST('/api/characters/{id}/packages', { ...at(id), body: { revision, profile, own, less } }))

export type Outcome = Schemas['OutcomeOut']
export type Replay = Schemas['ReplayOut']

/** What the steps of a recipe, or those chosen, would make of a revision; nothing is stored. */
export const sendReplay = (id: number, base: number, file: string, recipe: string, chosen: number[] | null) =>
  made<Replay>(() => client.POST('/api/characters/{id}/replays', { ...at(id), body: { base, file, recipe, chosen } }))

/** What bones and shapes by themselves leave out of the test poses in a file that was just saved, the worst first. */
export const fetchLeftOut = (id: number, kind: 'glb' | 'usd') =>
  wanted<LeftOut[]>(client.GET('/api/characters/{id}/left-out/{kind}', { params: { path: { id, kind } } }))

export const fetchTakenOff = () => wanted<Schemas['TakenOffOut'][]>(client.GET('/api/characters/taken-off'))

export const sendTakeOff = (id: number) => done(client.POST('/api/characters/{id}/take-off', at(id)))

export const sendPutBack = (id: number) => done(client.POST('/api/characters/{id}/put-back', at(id)))

export const fetchLately = () => wanted<Schemas['LatelyOut'][]>(client.GET('/api/lately'))

export type Tried = Schemas['TryOut']

/** What an edit would do to all test poses; nothing is stored. */
export const sendTry = (id: number, base: number, step: Step) =>
  made<Tried>(() => client.POST('/api/characters/{id}/try', { ...at(id), body: { base, step } }))

export type EffectsOut = Schemas['SideEffects']

/** What changed in all test poses from one revision to another. */
export const fetchEffects = (id: number, before: number, after: number, abort: AbortSignal) =>
  made<EffectsOut>(() => client.GET('/api/characters/{id}/effects', { params: { path: { id }, query: { before, after } } }), abort)

/** Compare the vertex order with a second file of the same head. */
export async function sendTwin(id: number, revision: number, files: File[]): Promise<Check> {
  const form = new FormData()
  for (const file of files) form.append('files', file)
  const response = await fetch(`/api/characters/${id}/twin?revision=${revision}`, { method: 'POST', body: form })
  if (!response.ok) throw await refusal(response)
  return (await response.json()) as Check
}

/** What hangs on bones, and what would become of it without them. */
export const fetchHanging = (id: number, revision: number, bones: string[]) =>
  wanted<string[]>(client.GET('/api/characters/{id}/bones/hanging', { params: { path: { id }, query: { revision, bones } } }))

/** What came of the last sweep of all expressions, and the one that is going on. */
export const fetchMix = (id: number, revision: number) => wanted<MixOut>(client.GET('/api/characters/{id}/mix', ofRevision(id, revision)))

/** What a revision has new, worse, better and no more against an earlier one. */
export const fetchMixSince = (id: number, before: number, revision: number) =>
  wanted<MixChange[]>(client.GET('/api/characters/{id}/mix/since/{before}', { params: { path: { id, before }, query: { revision } } }))

/** What would put a cause of the board right, each way measured over everything. */
export const fetchMendings = (id: number, revision: number, cause: number, abort: AbortSignal) =>
  made<Mending[]>(() => client.POST('/api/characters/{id}/mix/mendings', { ...at(id), body: { revision, cause } }), abort)

/** What puts all causes of the board right, one after the other, as far as it harms nothing. */
export const fetchRepairAll = (id: number, revision: number, abort: AbortSignal) =>
  made<AllRepaired>(() => client.POST('/api/characters/{id}/mix/repair-all', { ...at(id), body: { revision } }), abort)

/** What brings a corrective in beside the mix that it is for. */
export const fetchWoken = (id: number, revision: number, name: string) =>
  wanted<Schemas['Woken'][]>(client.GET('/api/characters/{id}/correctives/woken', { params: { path: { id }, query: { revision, name } } }))

/** A cause of the board as the edit takes it that calls it intended. */
export const fetchAsIntended = (id: number, revision: number, cause: number) =>
  wanted<Schemas['Intended']>(client.GET('/api/characters/{id}/mix/as-intended', { params: { path: { id }, query: { revision, cause } } }))

/** A flat cut through a vertex as it is posed: points (outwards, up) in mm about it. */
export const fetchPlaceCut = (id: number, revision: number, part: string, vertex: number, values: Record<string, number>) =>
  wanted<PlaceLine[]>(client.POST('/api/characters/{id}/cut', { ...at(id), body: { revision, part, vertex, values } }))

/** Every expression on every other, measured by a job that goes on though nobody waits. */
export const sendSweep = (id: number, revision: number) => wanted<Job>(client.POST('/api/characters/{id}/sweep', { ...at(id), body: { revision } }))

/** All that a station finds wrong. */
export const fetchFindings = (id: number, station: Station, revision: number, abort: AbortSignal) =>
  made<Finding[]>(() => client.GET('/api/characters/{id}/findings/{station}', { params: { path: { id, station }, query: { revision } } }), abort)
