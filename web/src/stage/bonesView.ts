import * as THREE from 'three'
import { tokens } from '../theme/tokens'

/** Bones as sewing needles over the surface: eye at the head, point at the tail. */
export class BonesView {
  readonly group = new THREE.Group()
  private needles: THREE.InstancedMesh | null = null

  pose(ends: Float32Array) {
    const count = ends.length / 6
    if (this.needles?.count !== count) this.rebuild(count)
    const head = new THREE.Vector3()
    const tail = new THREE.Vector3()
    const up = new THREE.Vector3(0, 1, 0)
    for (let b = 0; b < count; b++) {
      head.fromArray(ends, b * 6)
      tail.fromArray(ends, b * 6 + 3)
      const along = tail.clone().sub(head)
      const long = Math.max(along.length(), 1e-3)
      const turn = new THREE.Quaternion().setFromUnitVectors(up, along.normalize())
      this.needles?.setMatrixAt(b, new THREE.Matrix4().compose(head, turn, new THREE.Vector3(0.22 + long * 0.02, long, 0.22 + long * 0.02)))
    }
    if (this.needles) {
      this.needles.instanceMatrix.needsUpdate = true
      this.needles.computeBoundingSphere()
    }
  }

  private rebuild(count: number) {
    if (this.needles) this.group.remove(this.needles)
    const shape = new THREE.ConeGeometry(1, 1, 6).translate(0, 0.5, 0)
    const material = new THREE.MeshStandardMaterial({
      color: tokens.slate, roughness: 0.4, transparent: true, opacity: 0.82, depthTest: false, depthWrite: false,
    })
    this.needles = new THREE.InstancedMesh(shape, material, count)
    this.needles.renderOrder = 10
    this.group.add(this.needles)
  }
}
