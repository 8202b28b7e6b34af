import * as THREE from 'three'
import type { MeshPart } from '../../api/frames'
import type { StageUniforms } from './partMaterial'

const INK = { skin: 0x22302e, inner: 0x6b3a2a }
const INSIDE = 'vec3(0.96, 0.90, 0.80)' // on the dark of a head cut open
const FINE_MESHES: readonly MeshPart['kind'][] = ['hair', 'brow', 'whiskers'] // else they would close up

/** Lines along the edges of a part; those that face away inside a head cut open are light. */
export function wireMaterial(kind: MeshPart['kind'], { uCut }: StageUniforms): THREE.LineBasicMaterial {
  const material = new THREE.LineBasicMaterial({
    color: kind === 'skin' ? INK.skin : INK.inner,
    transparent: true,
    opacity: FINE_MESHES.includes(kind) ? 0.35 : 0.7,
  })
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, { uCut })
    shader.vertexShader = shader.vertexShader
      .replace('#include <common>', '#include <common>\nvarying float vFacing;')
      .replace('#include <fog_vertex>', '#include <fog_vertex>\nvFacing = dot(normal, cameraPosition - position);')
    shader.fragmentShader = shader.fragmentShader
      .replace('#include <common>', '#include <common>\nuniform float uCut; varying float vFacing;')
      .replace('#include <color_fragment>', `#include <color_fragment>\nif (uCut > 0.0 && vFacing < 0.0) diffuseColor.rgb = ${INSIDE};`)
  }
  return material
}
