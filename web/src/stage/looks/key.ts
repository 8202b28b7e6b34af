import * as THREE from 'three'
import type { Quality } from '../quality'
import { KEY_FROM } from './studio'

const FAR = 62 // cm from the middle of the head to the window
const MIDDLE = new THREE.Vector3(0, 16, 0)
const WINDOW = 4.4 // cm: radius of the disc over which the key wanders as a picture is developed

/** The one lamp that the renderer knows: it throws the shadow. */
export class Key {
  readonly light = new THREE.DirectionalLight(0xffffff, 1.5)

  constructor(scene: THREE.Scene, renderer: THREE.WebGLRenderer, quality: Quality) {
    const fine = quality === 'fine'
    renderer.toneMapping = THREE.NoToneMapping // materials print themselves
    renderer.shadowMap.enabled = true
    renderer.shadowMap.type = THREE.PCFShadowMap
    renderer.shadowMap.autoUpdate = false
    const { light } = this
    light.castShadow = true
    light.shadow.mapSize.setScalar(fine ? 2048 : 512)
    Object.assign(light.shadow.camera, { left: -15, right: 15, top: 17, bottom: -17, near: 20, far: 100 })
    light.shadow.bias = -0.0006
    light.shadow.normalBias = 0.05
    light.shadow.radius = 5
    light.target.position.copy(MIDDLE)
    this.home()
    // bones and handles are lit by what the renderer knows; the parts of the head ignore it
    scene.add(light, light.target, new THREE.HemisphereLight(0xffffff, 0xd8cfc0, 1.6))
  }

  home() {
    this.light.position.copy(KEY_FROM).multiplyScalar(FAR).add(MIDDLE)
  }

  /** To the `k`th of `count` places spread over the window by the golden angle (Vogel 1979). */
  wander(k: number, count: number) {
    const across = new THREE.Vector3(0, 1, 0).cross(KEY_FROM).normalize()
    const up = KEY_FROM.clone().cross(across)
    const angle = k * Math.PI * (3 - Math.sqrt(5))
    const far = Math.sqrt((k + 0.5) / count) * WINDOW
    this.home()
    this.light.position.addScaledVector(across, Math.cos(angle) * far).addScaledVector(up, Math.sin(angle) * far)
  }
}
