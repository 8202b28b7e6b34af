import * as THREE from 'three'
import { tokens } from '../theme/tokens'

const SHORTEST = 0.02 // cm; less than that is not drawn
const THICK = 0.035 // cm, of a shaft

/** Arrows from where vertices are along what moves them, in true length. */
export class ArrowsView {
  readonly group = new THREE.Group()
  private readonly shaft = new THREE.CylinderGeometry(1, 1, 1, 6).translate(0, 0.5, 0)
  private readonly tip = new THREE.ConeGeometry(1, 1, 8).translate(0, -0.5, 0)
  private readonly material = new THREE.MeshBasicMaterial({ color: tokens.madder, depthTest: false, transparent: true, opacity: 0.85 })

  /** `ends` are pairs of points. */
  show(ends: number[]) {
    for (const old of [...this.group.children] as THREE.InstancedMesh[]) {
      this.group.remove(old)
      old.dispose()
    }
    const pairs = Array.from({ length: ends.length / 6 }, (_, k) => [0, 3].map((at) => new THREE.Vector3().fromArray(ends, k * 6 + at)) as [THREE.Vector3, THREE.Vector3])
    const long = pairs.filter(([from, to]) => from.distanceTo(to) > SHORTEST)
    const shafts = new THREE.InstancedMesh(this.shaft, this.material, long.length)
    const tips = new THREE.InstancedMesh(this.tip, this.material, long.length)
    long.forEach(([from, to], k) => {
      const way = to.clone().sub(from)
      const length = way.length()
      const turn = new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 1, 0), way.normalize())
      const head = Math.min(0.22, length * 0.45)
      shafts.setMatrixAt(k, new THREE.Matrix4().compose(from, turn, new THREE.Vector3(THICK, length - head, THICK)))
      tips.setMatrixAt(k, new THREE.Matrix4().compose(to, turn, new THREE.Vector3(head * 0.4, head, head * 0.4)))
    })
    for (const mesh of [shafts, tips]) {
      mesh.renderOrder = 15
      mesh.frustumCulled = false
      this.group.add(mesh)
    }
  }
}
