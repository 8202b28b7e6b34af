import * as THREE from 'three'
import { tokens } from '../theme/tokens'

const ROUND = 20 // sides of a capsule

/** The envelopes of bones: within the inner capsule a bone carries all, beyond the outer one nothing. */
export class CapsulesView {
  readonly group = new THREE.Group()
  private shown: { row: number; radii: [number, number] }[] = []
  private ends: Float32Array = new Float32Array()

  /** Which bones, by their number, with inner and outer radius in cm. */
  show(shown: { row: number; radii: [number, number] }[]) {
    this.shown = shown
    this.pose(this.ends)
  }

  /** `ends` are base and tip of each bone. */
  pose(ends: Float32Array) {
    this.ends = ends
    for (const old of [...this.group.children] as THREE.Mesh[]) {
      old.geometry.dispose()
      ;(old.material as THREE.Material).dispose()
      this.group.remove(old)
    }
    for (const { row, radii } of this.shown) {
      if (row * 6 + 5 >= ends.length) continue
      const [base, tip] = [0, 3].map((at) => new THREE.Vector3().fromArray(ends, row * 6 + at)) as [THREE.Vector3, THREE.Vector3]
      radii.forEach((radius, k) => this.group.add(capsule(base, tip, radius, k === 0)))
    }
  }
}

function capsule(base: THREE.Vector3, tip: THREE.Vector3, radius: number, inner: boolean): THREE.Mesh {
  const way = tip.clone().sub(base)
  const geometry = new THREE.CapsuleGeometry(radius, Math.max(way.length(), 1e-4), 6, ROUND)
  const material = new THREE.MeshBasicMaterial({
    color: inner ? tokens.spruce : tokens.saffron,
    transparent: true,
    opacity: inner ? 0.28 : 0.4,
    wireframe: !inner,
    depthWrite: false,
  })
  const mesh = new THREE.Mesh(geometry, material)
  mesh.position.copy(base).addScaledVector(way, 0.5)
  mesh.quaternion.setFromUnitVectors(new THREE.Vector3(0, 1, 0), way.normalize())
  mesh.renderOrder = 11
  return mesh
}
