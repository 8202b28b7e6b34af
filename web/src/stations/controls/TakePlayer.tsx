import { Button, Select, Slider } from 'antd'
import { useEffect, useRef, useState } from 'react'
import type { CharacterOut, TakeFault } from '../../api/client'
import { canFilm, startFilm } from '../../stage/film'
import { useBench } from '../../state/bench'
import { useFollowed, useTakes } from '../../state/controls'
import { lookAtPlace } from '../../state/mix'
import { TakeFaults, TakeRibbon, useMeasuredTake } from './TakeFaults'

/** Plays made-up takes into the controls, as if a capture device sent them; paused, the frame stays on the stage to be worked on. */
export function TakePlayer({ character }: { character: CharacterOut }) {
  const { data: takes } = useTakes()
  const [name, setName] = useState<string | null>(null)
  const [mapping, setMapping] = useState<Record<string, string | null> | null>(null)
  const [smooth, setSmooth] = useState(80)
  const [playing, setPlaying] = useState(false)
  const [frame, setFrame] = useState(0)
  const { data, error } = useFollowed(character, name, mapping, smooth / 1000)
  const measured = useMeasuredTake(character, name, mapping, smooth / 1000)
  const goTo = useBench((s) => s.goTo)
  const now = useRef(0)
  const seen = useRef(false) // is a frame of this take on the stage?
  const film = useRef<(() => void) | null>(null) // ends the film that is being taken
  const last = (data?.frames.length ?? 1) - 1
  const endFilm = () => {
    film.current?.()
    film.current = null
    setPlaying(false)
  }
  const takeFilm = () => {
    const canvas = document.querySelector<HTMLCanvasElement>('canvas[aria-label=Stage]')
    if (!canvas) return
    show(0)
    film.current = startFilm(canvas, `${character.name} ${name}`)
    setPlaying(true)
  }
  const show = (k: number) => {
    now.current = k
    setFrame(k)
    seen.current = true
    const values = data?.frames[Math.floor(k)]
    if (!data || !values) return
    goTo(Object.fromEntries(data.controls.map((c, n) => [c, values[n]!])))
    useBench.setState({ ofTake: true })
  }
  useEffect(() => {
    if (seen.current && !playing) show(now.current) // the frame stays, under the new mapping or smoothing
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [data])
  useEffect(() => {
    if (!playing || !data) return
    let before: number | null = null
    let asked = 0
    const step = (time: number) => {
      const to = now.current + ((time - (before ?? time)) / 1000) * data.rate
      before = time
      if (to > data.frames.length - 1 && film.current) return endFilm()
      show(to > data.frames.length - 1 ? 0 : to)
      asked = requestAnimationFrame(step)
    }
    asked = requestAnimationFrame(step)
    return () => cancelAnimationFrame(asked)
    // a take that is followed never changes
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [playing, data])
  const k = Math.min(Math.floor(frame), last)
  const look = (fault: TakeFault) => {
    setPlaying(false)
    show(fault.frame)
    lookAtPlace(fault)
  }
  return (
    <div className="shape-tools">
      <p className="quiet said">Nothing is keyed here: a take only shows how the rig holds under a performance.</p>
      <div className="row">
        <Select
          size="small"
          aria-label="Take"
          placeholder="Choose a take"
          style={{ flex: 1 }}
          value={name}
          onChange={(chosen) => {
            setName(chosen)
            setMapping(null)
            setPlaying(false)
            now.current = 0
            seen.current = false
            setFrame(0)
          }}
          options={(takes ?? []).map((t) => ({ value: t.name, label: `${t.label}, ${t.seconds.toFixed(0)} s` }))}
        />
      </div>
      {error && <p className="madder">{error.message}</p>}
      {data && (
        <>
          <div className="row">
            <Button size="small" type="primary" aria-label={playing ? 'Pause the take' : 'Play the take'} onClick={() => (film.current ? endFilm() : setPlaying(!playing))}>
              {playing ? '❚❚' : '▶'}
            </Button>
            <div style={{ flex: 1 }}>
              <Slider ariaLabelForHandle="Frame of the take" min={0} max={last} value={k} tooltip={{ open: false }} onChange={(to) => show(to)} />
              {measured.report && measured.report.faults.length > 0 && <TakeRibbon report={measured.report} frame={k} last={last} onLook={look} />}
            </div>
            <Button size="small" title="Plays the take once and saves it as a film" disabled={!canFilm() || playing} onClick={takeFilm}>
              Film
            </Button>
            <span className="num" role="status" aria-label="Frame">
              {k + 1} / {last + 1}
            </span>
          </div>
          <p className={data.lost[k] ? 'madder' : 'quiet said'}>{data.lost[k] ? '▲ No data in this frame; the last one is held.' : `${data.lost.filter(Boolean).length} of ${last + 1} frames were lost on the way.`}</p>
          <div className="row">
            <span>Smoothing</span>
            <div style={{ flex: 1 }}>
              <Slider ariaLabelForHandle="Smoothing" min={0} max={400} step={10} value={smooth} tooltip={{ open: false }} onChange={setSmooth} />
            </div>
            <span className="num">{smooth} ms</span>
          </div>
          <TakeFaults measured={measured} onLook={look} />
          <h3>Channels</h3>
          <ul className="names" aria-label="Channels">
            {Object.entries(data.mapping).map(([channel, control]) => (
              <li key={channel}>
                <span style={{ flex: 1 }}>{channel}</span>
                <Select
                  size="small"
                  aria-label={`Control for ${channel}`}
                  value={control ?? ''}
                  popupMatchSelectWidth={false}
                  style={{ width: 150 }}
                  onChange={(to) => setMapping({ ...data.mapping, [channel]: to || null })}
                  options={[{ value: '', label: 'none' }, ...character.controls.map((c) => ({ value: c.name, label: c.label }))]}
                />
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  )
}
