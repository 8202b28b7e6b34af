import * as THREE from 'three'
import { OrbitControls } from 'three/addons/controls/OrbitControls.js'
import type { View } from './views'

const FLIGHT = 260 // ms a flight takes
export const NEAR = 0.5 // cm before the camera from which things are drawn
const FAR = 300 // and up to which
const NEAREST = 6 // cm the camera may come to what it looks at
const FARTHEST = 200

type Point = [number, number, number]
type Place = { x: number; y: number }

/** Does the system ask for less motion? */
export const calm = () => window.matchMedia('(prefers-reduced-motion: reduce)').matches

/** From the target of a view to its camera. */
export function armOf(view: View): THREE.Vector3 {
  const azimuth = THREE.MathUtils.degToRad(view.azimuth)
  const elevation = THREE.MathUtils.degToRad(view.elevation)
  const way = new THREE.Vector3(Math.sin(azimuth) * Math.cos(elevation), Math.sin(elevation), Math.cos(azimuth) * Math.cos(elevation))
  return way.multiplyScalar(view.distance)
}

/** Near and far of a camera: a head in the wrong unit is a hundred times too large or too small, and must be seen all the same. */
export function setDepth(camera: THREE.PerspectiveCamera, reach: number, near = NEAR) {
  camera.near = Math.min(near, reach * 0.9)
  camera.far = Math.max(FAR, reach * 4)
}

/** The camera, what it looks at, and how it goes from view to view. `moved` is called when the hand turns it, `taken` when it begins to. */
export class CameraRig {
  readonly camera = new THREE.PerspectiveCamera(24, 1, NEAR, FAR)
  private readonly controls: OrbitControls
  private flight: { from: THREE.Vector3[]; to: THREE.Vector3[]; start: number } | null = null

  constructor(
    private readonly canvas: HTMLCanvasElement,
    moved: () => void,
    taken: () => void,
  ) {
    this.controls = new OrbitControls(this.camera, canvas)
    this.controls.enableDamping = false
    this.controls.addEventListener('change', moved)
    this.controls.addEventListener('start', taken)
  }

  get flying() {
    return this.flight !== null
  }

  /** What is looked at, cm. */
  get target(): THREE.Vector3 {
    return this.controls.target
  }

  /** How far the camera is from that. */
  get distance() {
    return this.camera.position.distanceTo(this.target)
  }

  lookAs(other: CameraRig) {
    this.camera.copy(other.camera)
    this.target.copy(other.target)
  }

  /** Shifted by parts of a pixel. */
  aim(x: number, y: number) {
    const { clientWidth, clientHeight } = this.canvas
    this.camera.setViewOffset(clientWidth, clientHeight, x, y, clientWidth, clientHeight)
  }

  /** Sets out for a place; `near` is what is cut off before the camera. */
  flyTo(position: THREE.Vector3, target: THREE.Vector3, at_once: boolean, near = NEAR) {
    const reach = position.distanceTo(target)
    setDepth(this.camera, reach, near)
    this.camera.updateProjectionMatrix()
    this.controls.minDistance = Math.min(NEAREST, reach * 0.3)
    this.controls.maxDistance = Math.max(FARTHEST, reach * 2)
    this.flight = {
      from: [this.camera.position.clone(), this.target.clone()],
      to: [position, target],
      start: at_once || calm() ? -Infinity : performance.now(),
    }
    this.canvas.dataset.flying = 'true'
  }

  /** A step of the flight; says whether there are more. */
  step(): boolean {
    if (!this.flight) return false
    const { from, to, start } = this.flight
    const t = Math.min(1, (performance.now() - start) / FLIGHT)
    const eased = t * t * (3 - 2 * t)
    this.camera.position.lerpVectors(from[0]!, to[0]!, eased)
    this.target.lerpVectors(from[1]!, to[1]!, eased)
    this.camera.lookAt(this.target)
    if (t < 1) return true
    this.flight = null
    this.canvas.dataset.flying = 'false'
    this.controls.update()
    return false
  }

  /** Turns about what is looked at, degrees to the left and up. */
  turn(across: number, up: number) {
    this.flight = null
    const arm = new THREE.Spherical().setFromVector3(this.camera.position.clone().sub(this.target))
    arm.theta += THREE.MathUtils.degToRad(across)
    arm.phi = THREE.MathUtils.clamp(arm.phi - THREE.MathUtils.degToRad(up), 0.02, Math.PI - 0.02)
    this.camera.position.setFromSpherical(arm).add(this.target)
    this.camera.lookAt(this.target)
  }

  /** Goes nearer by a factor below one, farther by one above. */
  near(factor: number) {
    const arm = this.camera.position.clone().sub(this.target)
    arm.setLength(THREE.MathUtils.clamp(arm.length() * factor, this.controls.minDistance, this.controls.maxDistance))
    this.camera.position.copy(this.target).add(arm)
  }

  /** Where a point of the head is on the canvas, in CSS pixels; null behind the camera. */
  project(point: Point): Place | null {
    const p = new THREE.Vector3().fromArray(point).project(this.camera)
    if (!(Math.abs(p.z) <= 1)) return null // nor for what stands where the camera does
    return { x: ((p.x + 1) / 2) * this.canvas.clientWidth, y: ((1 - p.y) / 2) * this.canvas.clientHeight }
  }

  /** Centimetres that a pixel covers at a point. */
  pixelAt(point: Point): number {
    const far = this.camera.position.distanceTo(new THREE.Vector3().fromArray(point))
    return (2 * far * Math.tan(THREE.MathUtils.degToRad(this.camera.fov / 2))) / this.canvas.clientHeight
  }

  /** From a point to the camera, of length one. */
  towards(point: Point): THREE.Vector3 {
    return this.camera.position.clone().sub(new THREE.Vector3().fromArray(point)).normalize()
  }

  ray(x: number, y: number): THREE.Raycaster {
    const ray = new THREE.Raycaster()
    const at = new THREE.Vector2((x / this.canvas.clientWidth) * 2 - 1, 1 - (y / this.canvas.clientHeight) * 2)
    ray.setFromCamera(at, this.camera)
    ray.near = this.camera.near
    return ray
  }

  dispose() {
    this.controls.dispose()
  }
}
