import * as THREE from 'three'
import { setDepth } from './cameraRig'
import type { View } from './views'

/**
 * A small picture of a scene from a view of its own. It is drawn into a corner of the canvas, where it stays until that is drawn again:
 * a second canvas would have to load everything twice.
 */
export function smallPicture(renderer: THREE.WebGLRenderer, scene: THREE.Scene, like: THREE.PerspectiveCamera, view: View, size: { width: number; height: number }): string {
  const { width, height } = size
  const canvas = renderer.domElement
  const camera = like.clone()
  setDepth(camera, view.distance)
  const azimuth = THREE.MathUtils.degToRad(view.azimuth)
  const target = new THREE.Vector3().fromArray(view.target)
  camera.position.set(Math.sin(azimuth) * view.distance, view.distance * 0.05, Math.cos(azimuth) * view.distance).add(target)
  camera.lookAt(target)
  camera.clearViewOffset()
  camera.aspect = width / height
  camera.updateProjectionMatrix()
  const copy = document.createElement('canvas')
  const ratio = renderer.getPixelRatio()
  copy.width = width * ratio
  copy.height = height * ratio
  renderer.setScissorTest(true)
  renderer.setScissor(0, 0, width, height)
  renderer.setViewport(0, 0, width, height)
  renderer.render(scene, camera)
  copy.getContext('2d')?.drawImage(canvas, 0, canvas.height - copy.height, copy.width, copy.height, 0, 0, copy.width, copy.height)
  renderer.setViewport(0, 0, canvas.clientWidth, canvas.clientHeight)
  renderer.setScissorTest(false)
  return copy.toDataURL('image/jpeg', 0.9)
}
