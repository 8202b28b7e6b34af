import * as THREE from 'three'
import { RoomEnvironment } from 'three/addons/environments/RoomEnvironment.js'
import type { Quality } from './quality'

/** Key from the upper left, cool fill, white rim, and a soft room all round. */
export function light(scene: THREE.Scene, renderer: THREE.WebGLRenderer, quality: Quality) {
  renderer.toneMapping = THREE.ACESFilmicToneMapping
  renderer.toneMappingExposure = 1.06
  renderer.shadowMap.enabled = true
  renderer.shadowMap.type = quality === 'fine' ? THREE.PCFShadowMap : THREE.BasicShadowMap
  renderer.shadowMap.autoUpdate = false
  if (quality === 'fine') {
    const room = new THREE.PMREMGenerator(renderer)
    scene.environment = room.fromScene(new RoomEnvironment(), 0.04).texture
    scene.environmentIntensity = 0.46
  } else scene.add(new THREE.HemisphereLight(0xfffaf2, 0xcbb8a2, 2.1)) // the room would take seconds to light in software
  const key = new THREE.DirectionalLight(0xfff1e0, quality === 'fine' ? 2.5 : 1.9)
  key.position.set(-22, 42, 40)
  key.target.position.set(0, 16, 0)
  key.castShadow = true
  key.shadow.mapSize.setScalar(quality === 'fine' ? 2048 : 512)
  Object.assign(key.shadow.camera, { left: -18, right: 18, top: 20, bottom: -20, near: 10, far: 110 })
  key.shadow.bias = -0.0006
  key.shadow.normalBias = 0.06
  key.shadow.radius = 4
  const fill = new THREE.DirectionalLight(0xcfdcff, 0.75)
  fill.position.set(35, 15, 25)
  const rim = new THREE.DirectionalLight(0xffffff, 1.5)
  rim.position.set(20, 35, -40)
  scene.add(key, key.target, fill, rim)
}
