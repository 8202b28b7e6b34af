import * as THREE from 'three'
import { tokens } from '../theme/tokens'
import type { Quality } from './quality'

/** Roughness and sheen by kind of part; values that flatter the puppets. */
const LOOKS: Record<string, { roughness: number; clearcoat?: number; sheen?: number; both?: boolean }> = {
  skin: { roughness: 0.52, sheen: 0.35 },
  eye: { roughness: 0.08, clearcoat: 1 },
  hair: { roughness: 0.5 },
  whiskers: { roughness: 0.5 },
  'teeth upper': { roughness: 0.2 },
  'teeth lower': { roughness: 0.2 },
  tongue: { roughness: 0.4 },
  lash: { roughness: 0.8, both: true },
  brow: { roughness: 0.7 },
}

/** What a part looks like that came without colours (sRGB), so that an uncoloured head can be told apart at a glance. */
const BARE: Record<string, [number, number, number]> = {
  skin: [0.87, 0.72, 0.62],
  eye: [0.93, 0.92, 0.89],
  'teeth upper': [0.93, 0.9, 0.82],
  'teeth lower': [0.93, 0.9, 0.82],
  tongue: [0.78, 0.44, 0.42],
  brow: [0.33, 0.24, 0.19],
  lash: [0.18, 0.15, 0.14],
  hair: [0.42, 0.31, 0.24],
  whiskers: [0.5, 0.42, 0.36],
  body: [0.64, 0.68, 0.66],
}

export const bareColour = (kind: string) => BARE[kind] ?? [0.8, 0.8, 0.8]

export interface PartUniforms {
  /** 1 for weights, 2 for a difference, 0 for neither. */
  uColours: { value: number }
  /** Middle and radius of the brush's ring, cm; radius 0 for none. */
  uRing: { value: THREE.Vector4 }
}

export type PartMaterial = THREE.MeshPhysicalMaterial | THREE.MeshLambertMaterial

/** A lit material that can also show weights: a ramp from bare skin over straw and moss to deep spruce, with contour lines. */
export function partMaterial(kind: string, uniforms: PartUniforms, quality: Quality): PartMaterial {
  const look = LOOKS[kind] ?? { roughness: 0.6 }
  const common = {
    vertexColors: true,
    side: look.both ? THREE.DoubleSide : THREE.FrontSide,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
  }
  const material =
    quality === 'plain'
      ? new THREE.MeshLambertMaterial(common)
      : new THREE.MeshPhysicalMaterial({
          ...common,
          roughness: look.roughness,
          clearcoat: look.clearcoat ?? 0,
          clearcoatRoughness: 0.03,
          sheen: look.sheen ?? 0,
          sheenColor: new THREE.Color(0.9, 0.45, 0.35),
          sheenRoughness: 0.5,
        })
  material.onBeforeCompile = (shader) => {
    shader.uniforms.uColours = uniforms.uColours
    shader.uniforms.uRing = uniforms.uRing
    shader.vertexShader = shader.vertexShader
      .replace('#include <common>', '#include <common>\nattribute vec2 weight;\nvarying vec2 vWeight;\nvarying vec3 vPlace;')
      .replace('#include <begin_vertex>', '#include <begin_vertex>\nvWeight = weight;\nvPlace = position;')
    shader.fragmentShader = shader.fragmentShader
      .replace('#include <common>', `#include <common>\nuniform float uColours;\nuniform vec4 uRing;\nvarying vec2 vWeight;\nvarying vec3 vPlace;\n${RAMP}`)
      .replace('#include <color_fragment>', '#include <color_fragment>\nif (uColours > 1.5) diffuseColor.rgb = differenceColour(diffuseColor.rgb, vWeight.x);\nelse if (uColours > 0.5) diffuseColor.rgb = weightColour(diffuseColor.rgb, vWeight);')
      .replace('#include <opaque_fragment>', `#include <opaque_fragment>\n${RING}`)
  }
  return material
}

const linear = (hex: string) => {
  const c = new THREE.Color(hex)
  return `vec3(${c.r.toFixed(4)}, ${c.g.toFixed(4)}, ${c.b.toFixed(4)})`
}

/** x = weight of the bone, y = total. Totals other than 1 are hatched in saffron, so that they show without colour sight too. */
const RAMP = `
/* lines at every quarter, where they can be told apart */
float contourAt(float w) {
  float d = max(fwidth(w), 1e-4);
  float contour = 0.0;
  for (int k = 1; k < 4; k++) contour = max(contour, 1.0 - smoothstep(0.6, 1.4, abs(w - 0.25 * float(k)) / d));
  return d < 0.2 ? contour : 0.0;
}
vec3 weightColour(vec3 skin, vec2 weight) {
  float w = clamp(weight.x, 0.0, 1.0);
  vec3 bare = mix(skin, ${linear('#EADCC6')}, 0.5);
  vec3 c = mix(bare, ${linear('#D9C06A')}, smoothstep(0.0, 0.30, w));
  c = mix(c, ${linear('#7E9A55')}, smoothstep(0.30, 0.62, w));
  c = mix(c, ${linear('#17493F')}, smoothstep(0.62, 1.0, w));
  c = mix(c, ${linear('#22302E')}, contourAt(w) * 0.75);
  if (abs(weight.y - 1.0) > 0.002 && fract((gl_FragCoord.x + gl_FragCoord.y) / 9.0) < 0.34) c = ${linear(tokens.saffron)};
  return c;
}
/* nothing is bare skin, half of the most is plum, the most is madder */
vec3 differenceColour(vec3 skin, float share) {
  float w = clamp(share, 0.0, 1.0);
  vec3 c = mix(skin, ${linear('#E6DCCB')}, 0.75);
  c = mix(c, ${linear(tokens.plum)}, smoothstep(0.02, 0.5, w));
  c = mix(c, ${linear(tokens.madder)}, smoothstep(0.5, 1.0, w));
  return mix(c, ${linear('#22302E')}, contourAt(w) * 0.6);
}`


/** The ring lies on the surface wherever that is as far from the pointer as the brush reaches; a dot marks its middle. */
const RING = `
if (uRing.w > 0.0) {
  float far = distance(vPlace, uRing.xyz);
  float pixel = max(fwidth(far), 1e-5);
  float line = 1.0 - smoothstep(0.8, 1.8, abs(far - uRing.w) / pixel);
  float halo = 1.0 - smoothstep(1.8, 3.2, abs(far - uRing.w) / pixel);
  float dot_ = 1.0 - smoothstep(1.6, 2.6, far / pixel);
  gl_FragColor.rgb = mix(gl_FragColor.rgb, vec3(1.0), max(halo, dot_) * 0.65);
  gl_FragColor.rgb = mix(gl_FragColor.rgb, ${linear(tokens.ink)}, line);
}`
