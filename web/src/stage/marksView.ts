import * as THREE from 'three'
import { tokens } from '../theme/tokens'

const SIZE = 8 // px of a marked vertex

/** Marked vertices as dots, faint where the surface hides them; and what a repair would move, as threads from here to there. */
export class MarksView {
  readonly group = new THREE.Group()
  private readonly geometry = new THREE.BufferGeometry()
  private readonly threads: THREE.LineSegments
  private readonly dots: THREE.PointsMaterial[]

  constructor(ratio: number) {
    const dot = roundDot()
    const common = { size: SIZE * ratio, sizeAttenuation: false, map: dot, transparent: true, alphaTest: 0.3, depthWrite: false }
    this.dots = [
      new THREE.PointsMaterial({ ...common, opacity: 0.38, depthTest: false }),
      new THREE.PointsMaterial({ ...common, polygonOffset: true, polygonOffsetFactor: -2, polygonOffsetUnits: -2 }),
    ]
    this.dots.forEach((material, k) => {
      const points = new THREE.Points(this.geometry, material)
      points.renderOrder = 10 + k
      points.frustumCulled = false
      this.group.add(points)
    })
    this.threads = new THREE.LineSegments(
      new THREE.BufferGeometry(),
      new THREE.LineBasicMaterial({ color: tokens.slate, depthTest: false, transparent: true }),
    )
    this.threads.renderOrder = 14
    this.threads.frustumCulled = false
    this.group.add(this.threads)
    this.place(new Float32Array(), tokens.madder)
    this.spin(new Float32Array())
  }

  /** Dots at `points` (x, y, z each). */
  place(points: Float32Array, colour: string) {
    this.geometry.setAttribute('position', new THREE.BufferAttribute(points, 3))
    for (const material of this.dots) material.color.set(colour)
  }

  /** Threads between pairs of `ends`. */
  spin(ends: Float32Array) {
    this.threads.geometry.setAttribute('position', new THREE.BufferAttribute(ends, 3))
  }

  dispose() {
    this.geometry.dispose()
    this.threads.geometry.dispose()
    for (const material of this.dots) {
      material.map?.dispose()
      material.dispose()
    }
  }
}

function roundDot(): THREE.CanvasTexture {
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = 32
  const pen = canvas.getContext('2d')
  if (pen) {
    pen.fillStyle = '#fff'
    pen.beginPath()
    pen.arc(16, 16, 15, 0, Math.PI * 2)
    pen.fill()
  }
  return new THREE.CanvasTexture(canvas)
}
