import { useQuery } from '@tanstack/react-query'
import { Alert, Modal, Spin, Splitter } from 'antd'
import { Suspense, useEffect, useRef } from 'react'
import { useParams, useSearchParams } from 'react-router-dom'
import { fetchCharacter } from '../api/client'
import { MixBoard, PANELS, ShapeSheet, Stage, WeightSheet } from '../stations/panels'
import { STATIONS, type Station } from '../stations/stations'
import { openFresh, takeOn, useBench } from '../state/bench'
import { useOpenCheck } from '../state/checkin'
import { useNews, useRedo, useUndo } from '../state/edits'
import { KEYS, useKeys } from '../state/keys'
import { useMeasuring } from '../state/measuring'
import type { CharacterOut } from '../api/client'
import { Mark } from './Mark'
import { Dock } from './Dock'
import { Rail } from './Rail'
import { SeamList } from './SeamList'
import { Guide } from './Guide'
import { Held } from './Held'
import { useLayout } from '../state/layout'
import { TopBar } from './TopBar'

const FRESH = 10_000 // ms; what others do meanwhile is asked for as news

/** Loads the character of the address, then shows the bench. */
export function Bench() {
  const { id } = useParams()
  const { data, error } = useQuery({ queryKey: ['character', Number(id)], queryFn: () => fetchCharacter(Number(id)), staleTime: FRESH })
  useEffect(() => openFresh, [id])
  const opened = useBench((s) => s.character?.id === Number(id))
  useEffect(() => {
    if (data) takeOn(data)
  }, [data])
  if (error)
    return (
      <div style={{ padding: 40 }}>
        <Mark />
        <Alert style={{ marginTop: 20 }} type="error" title={error.message} />
      </div>
    )
  if (!data || !opened) return <Spin style={{ marginTop: 160, width: '100%' }} />
  return <Open character={data} />
}

function Open({ character }: { character: CharacterOut }) {
  const { station: key } = useParams()
  const bareStage = useBench((s) => s.bareStage)
  const sheetOpen = useBench((s) => s.sheetOpen)
  const shapeSheet = useBench((s) => s.shapeSheet)
  const station = STATIONS.find((s) => s.key === key) ?? STATIONS[2]!
  const { mutate: undo } = useUndo(character)
  const { mutate: redo } = useRedo(character)
  useKeys(useOpenCheck(character), undo, redo)
  // the head is drawn first, and what stands around it after
  const ready = useBench((s) => s.stageReady)
  useMeasuring(ready ? character : undefined)
  useNews(character)
  useAddress()
  const { left, right, dock, sized } = useLayout()
  return (
    <main className={`bench ${bareStage ? 'bare-stage' : ''}`}>
      <button className="skip" onClick={() => document.querySelector<HTMLElement>('.stage-canvas')?.focus()}>
        Skip to the stage
      </button>
      <header className="top-row">
        <div className="corner">
          <Mark />
        </div>
        {ready && <TopBar character={character} onUndo={() => undo()} onRedo={() => redo()} />}
      </header>
      <Splitter className="columns" onResizeEnd={([size]) => sized({ left: size })} onCollapse={(_, [size]) => sized({ left: size })}>
        <Splitter.Panel defaultSize={left} min={190} max={320} collapsible={{ end: true, showCollapsibleIcon: 'auto' }} className="left">
          {ready && <Rail character={character} current={station.key} />}
          {ready && <SeamList character={character} />}
        </Splitter.Panel>
        <Splitter.Panel>
          <Splitter orientation="vertical" onResizeEnd={(sizes) => sized({ dock: sizes[1] })} onCollapse={(_, sizes) => sized({ dock: sizes[1] })}>
            <Splitter.Panel>
              <Splitter onResizeEnd={(sizes) => sized({ right: sizes[1] })} onCollapse={(_, sizes) => sized({ right: sizes[1] })}>
                <Splitter.Panel className="middle">
                  <Suspense fallback={<Spin className="loading" />}>
                    <Stage character={character} station={station.key} />
                  </Suspense>
                  <Suspense>
                    {sheetOpen && station.key === 'weights' && <WeightSheet character={character} />}
                    {shapeSheet && station.key === 'shapes' && <ShapeSheet character={character} />}
                    {ready && station.key === 'mix' && <MixBoard character={character} />}
                  </Suspense>
                </Splitter.Panel>
                <Splitter.Panel defaultSize={right} min={300} max={520} collapsible={{ start: true, showCollapsibleIcon: 'auto' }} className="right">
                  {ready && (
                    <>
                      <div className="panel">
                        <Suspense fallback={<Spin className="loading" />}>
                          <Panel station={station} character={character} />
                        </Suspense>
                      </div>
                      <Held character={character} station={station.key} />
                    </>
                  )}
                </Splitter.Panel>
              </Splitter>
            </Splitter.Panel>
            <Splitter.Panel defaultSize={dock} min={120} max={320} collapsible={{ start: true, showCollapsibleIcon: 'auto' }}>
              {ready && <Dock character={character} />}
            </Splitter.Panel>
          </Splitter>
        </Splitter.Panel>
      </Splitter>
      {ready && <Keys />}
      {ready && <Guide />}
    </main>
  )
}

function Panel({ station, character }: { station: Station; character: CharacterOut }) {
  const Loaded = PANELS[station.key]
  return Loaded && <Loaded character={character} />
}

const addressed = () => new URLSearchParams(window.location.search).toString()

/** Pose, seam and check stand in the address, so that reload, back and forward keep the place. */
function useAddress() {
  const [search, setSearch] = useSearchParams()
  const pose = useBench((s) => s.pose)
  const seam = useBench((s) => s.seam)
  const check = useBench((s) => s.check)
  const ready = useBench((s) => s.character !== null)
  const said = useRef<string | null>(null)
  useEffect(() => {
    // what was said here, or is said no longer, comes late and would undo what was chosen since
    if (!ready || search.toString() === said.current || search.toString() !== addressed()) return
    const wanted = search.get('pose')
    if (wanted && wanted !== useBench.getState().pose) useBench.getState().goToPose(wanted)
    useBench.setState({ seam: search.get('seam'), check: search.get('check') })
    // only when the place changes from outside: on load, back and forward
  }, [ready, search])
  useEffect(() => {
    if (!ready) return
    const next = new URLSearchParams()
    if (pose) next.set('pose', pose)
    if (seam) next.set('seam', seam)
    if (check) next.set('check', check)
    said.current = next.toString()
    if (said.current !== addressed()) setSearch(next, { replace: true })
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [ready, pose, seam, check])
}

function Keys() {
  const open = useBench((s) => s.keysOpen)
  const set = useBench((s) => s.set)
  return (
    <Modal open={open} title="Keys" footer={null} onCancel={() => set({ keysOpen: false })} width={420}>
      <table>
        <tbody>
          {KEYS.map((k) => (
            <tr key={k.keys}>
              <td className="num" style={{ paddingRight: 20, whiteSpace: 'nowrap' }}>
                {k.keys}
              </td>
              <td>{k.does}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Modal>
  )
}
