import type * as THREE from 'three'
import type { CameraRig } from './cameraRig'
import { Developing, halton } from './looks/developing'
import type { Key } from './looks/key'

const STILL = 150 // ms without a change until a picture is developed
const COUNT = 12 // exposures that it is laid together from

/** Develops a stage that stands still: exposures shifted within a pixel, the key elsewhere on its window in each. */
export class Exposures {
  private readonly developing: Developing
  private timer = 0
  private frame = 0

  constructor(
    private readonly renderer: THREE.WebGLRenderer,
    private readonly scene: THREE.Scene,
    private readonly rig: CameraRig,
    private readonly key: Key,
  ) {
    this.developing = new Developing(renderer)
  }

  private get canvas() {
    return this.renderer.domElement
  }

  /** Nothing changes any more, for now. */
  await() {
    clearTimeout(this.timer)
    this.timer = window.setTimeout(() => this.expose(0), STILL)
  }

  /** Something changes: all is as it was before the first exposure. */
  stop() {
    clearTimeout(this.timer)
    cancelAnimationFrame(this.frame)
    this.timer = this.frame = 0
    delete this.canvas.dataset.developed
    this.key.home()
    this.rig.aim(0, 0)
  }

  dispose() {
    this.stop()
    this.developing.dispose()
  }

  private expose(k: number) {
    if (k === 0) this.developing.begin()
    this.key.wander(k, COUNT)
    this.rig.aim(halton(k + 1, 2) - 0.5, halton(k + 1, 3) - 0.5)
    this.renderer.shadowMap.needsUpdate = true
    this.renderer.render(this.scene, this.rig.camera)
    this.developing.add(COUNT)
    this.renderer.shadowMap.needsUpdate = true // the next picture is lit from the middle again
    if (k + 1 < COUNT) {
      this.frame = requestAnimationFrame(() => this.expose(k + 1))
      return
    }
    this.developing.show()
    this.canvas.dataset.developed = 'true'
  }
}
