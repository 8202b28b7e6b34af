import * as THREE from 'three'
import type { PartOut } from '../../api/client'
import type { PaintedEye } from '../../api/shading'
import type { Quality } from '../quality'
import { EYE_PARS, eyeLight, LID_POINTS } from './eye'
import { HAIR_LIGHT, HAIR_PARS } from './hair'
import { BALL_LIGHT, CLOTH_LIGHT, MATT_LIGHT } from './matt'
import { MEASURING, RAMP, RING } from './measuring'
import { TEETH_LIGHT, TONGUE_LIGHT } from './mouth'
import { skinLight, skinPars } from './skin'
import { KEY_FROM, studio } from './studio'

type Kind = PartOut['kind']
type Surface = 'skin' | 'eye' | 'ball' | 'hair' | 'teeth' | 'tongue' | 'cloth' | 'matt'

const SURFACES: Partial<Record<Kind, Surface>> = {
  skin: 'skin', hair: 'hair', whiskers: 'hair', brow: 'hair', 'teeth upper': 'teeth', 'teeth lower': 'teeth', tongue: 'tongue', cloth: 'cloth', eye: 'ball',
}

/** What a part looks like that came without colours (sRGB), so that an uncoloured head can be told apart at a glance. */
const BARE: Partial<Record<Kind, [number, number, number]>> = {
  skin: [0.87, 0.72, 0.62],
  eye: [0.93, 0.92, 0.89],
  'teeth upper': [0.93, 0.9, 0.82],
  'teeth lower': [0.93, 0.9, 0.82],
  tongue: [0.78, 0.44, 0.42],
  brow: [0.33, 0.24, 0.19],
  lash: [0.18, 0.15, 0.14],
  hair: [0.42, 0.31, 0.24],
  whiskers: [0.5, 0.42, 0.36],
  cloth: [0.5, 0.54, 0.5],
  body: [0.64, 0.68, 0.66],
}

export const bareColour = (kind: Kind) => BARE[kind] ?? [0.8, 0.8, 0.8]

/** What all parts of a stage share. */
export interface StageUniforms {
  uKeyFrom: { value: THREE.Vector3 }
  /** How near the camera is: 1 for where pores can be seen. */
  uNear: { value: number }
  /** 1 where one looks through skin and hair: what they hide is then in the light. */
  uGlass: { value: number }
  /** How far before the camera a head is cut open, cm; 0 where it is whole. */
  uCut: { value: number }
}

export const stageUniforms = (): StageUniforms => ({ uKeyFrom: { value: KEY_FROM.clone() }, uNear: { value: 0 }, uGlass: { value: 0 }, uCut: { value: 0 } })

export interface PartUniforms extends StageUniforms {
  /** 1 for weights, 2 for a difference, 0 for neither. */
  uColours: { value: number }
  /** Middle and radius of the brush's ring, cm; radius 0 for none. */
  uRing: { value: THREE.Vector4 }
  /** From directions in the pose to those at rest; of an eye to its own. */
  uTurn: { value: THREE.Matrix3 }
}

export interface EyeUniforms {
  uCentre: { value: THREE.Vector3 }
  uEye: { value: THREE.Vector4 }
  uRings: { value: THREE.DataTexture }
  uLids: { value: THREE.Vector3[] }
  uHasLids: { value: number }
}

const CUT_LINE = '2.0' // pixels that the edge of a cut is wide
export const IRIS_DEPTH = 0.93 // of the height of its rim at which the iris lies

export function eyeUniforms(eye: PaintedEye, hasLids: boolean): EyeUniforms {
  const rings = eye.colours.length / 3
  const colours = new Float32Array(rings * 4)
  for (let k = 0; k < rings; k++) colours.set(eye.colours.subarray(k * 3, k * 3 + 3), k * 4)
  const texture = new THREE.DataTexture(colours, rings, 1, THREE.RGBAFormat, THREE.FloatType)
  texture.minFilter = texture.magFilter = THREE.LinearFilter
  texture.needsUpdate = true
  return {
    uCentre: { value: new THREE.Vector3().fromArray(eye.centre) },
    uEye: { value: new THREE.Vector4(eye.radius, eye.pupil, eye.iris, IRIS_DEPTH) },
    uRings: { value: texture },
    uLids: { value: Array.from({ length: LID_POINTS }, () => new THREE.Vector3()) },
    uHasLids: { value: hasLids ? 1 : 0 },
  }
}

const VERTEX = /* glsl */ `
attribute vec2 weight; attribute vec2 baked; attribute vec3 strand; attribute vec3 rest;
varying vec3 vPlace; varying vec3 vLook; varying vec3 vRest; varying vec3 vStrand; varying vec2 vWeight; varying vec2 vBaked;`

const TO_FRAGMENT = /* glsl */ `
vPlace = position; vLook = normal; vRest = rest; vStrand = strand; vWeight = weight; vBaked = baked;`

const pars = (surface: Surface, quality: Quality) => /* glsl */ `
uniform float uColours; uniform vec4 uRing; uniform float uNear; uniform float uGlass; uniform float uCut;
varying vec3 vPlace; varying vec3 vLook; varying vec3 vRest; varying vec3 vStrand; varying vec2 vWeight; varying vec2 vBaked;
${RAMP}${MEASURING}${studio(quality)}
${surface === 'eye' ? EYE_PARS : surface === 'hair' ? HAIR_PARS : surface === 'skin' ? skinPars(quality) : ''}`

function lightOf(surface: Surface, quality: Quality): string {
  if (surface === 'skin') return skinLight(quality)
  if (surface === 'eye') return eyeLight(quality)
  return { hair: HAIR_LIGHT, teeth: TEETH_LIGHT, tongue: TONGUE_LIGHT, cloth: CLOTH_LIGHT, ball: BALL_LIGHT, matt: MATT_LIGHT }[surface]
}

const lit = (surface: Surface, quality: Quality) => /* glsl */ `
vec3 c = diffuseColor.rgb;
vec3 N = normalize(vLook) * faceDirection;
vec3 V = normalize(cameraPosition - vPlace);
float sky = mix(clamp(vBaked.x, 0.0, 1.0), 1.0, uGlass * 0.8), NL = dot(N, uKeyFrom), lit = litByKey(NL);
vec3 col;
if (uCut > 0.0 && vViewPosition.z - uCut < ${CUT_LINE} * fwidth(vViewPosition.z)) col = vec3(0.10, 0.03, 0.03); /* the edge of the cut */
else if (!gl_FrontFacing && uCut > 0.0) col = mix(c, vec3(0.20, 0.21, 0.21), 0.85); /* the inside of what was cut open: one flat tone, as of a solid */
else if (uColours > 0.5) col = measuringLight(c, N, NL, lit, sky);
else {
  float NV = clamp(dot(N, V), 0.0, 1.0);
  ${lightOf(surface, quality)}
  col = printed(col);
}
reflectedLight.directDiffuse = col;`

/** A material of the studio. An eye that is painted in rings has uniforms of its own. */
export function partMaterial(kind: Kind, uniforms: PartUniforms, quality: Quality, eye: EyeUniforms | null): THREE.MeshLambertMaterial {
  const surface = eye ? 'eye' : (SURFACES[kind] ?? 'matt')
  const material = new THREE.MeshLambertMaterial({
    vertexColors: true,
    toneMapped: false,
    side: kind === 'lash' ? THREE.DoubleSide : THREE.FrontSide,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
  })
  material.customProgramCacheKey = () => `${surface} ${quality}`
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, uniforms, eye ?? {})
    shader.vertexShader = shader.vertexShader
      .replace('#include <common>', `#include <common>\n${VERTEX}`)
      .replace('#include <begin_vertex>', `#include <begin_vertex>\n${TO_FRAGMENT}`)
    let fragment = shader.fragmentShader
      .replace('#include <shadowmap_pars_fragment>', `#include <shadowmap_pars_fragment>\n${pars(surface, quality)}`)
      .replace('#include <color_fragment>', '#include <color_fragment>\nif (uColours > 1.5) diffuseColor.rgb = differenceColour(diffuseColor.rgb, vWeight.x);\nelse if (uColours > 0.5) diffuseColor.rgb = weightColour(diffuseColor.rgb, vWeight);')
      .replace('#include <lights_fragment_begin>', lit(surface, quality))
      .replace('#include <opaque_fragment>', `gl_FragColor = vec4(outgoingLight, diffuseColor.a);\n${RING}`)
    for (const unused of ['lights_lambert_fragment', 'lights_fragment_maps', 'lights_fragment_end', 'aomap_fragment']) fragment = fragment.replace(`#include <${unused}>`, '')
    shader.fragmentShader = fragment
  }
  return material
}
