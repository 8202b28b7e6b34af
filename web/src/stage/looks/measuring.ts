import * as THREE from 'three'
import { tokens } from '../../theme/tokens'

const linear = (hex: string) => {
  const c = new THREE.Color(hex)
  return `vec3(${c.r.toFixed(4)}, ${c.g.toFixed(4)}, ${c.b.toFixed(4)})`
}

/**
 * Colours of what is measured: x = weight of the bone, y = total. Totals other than 1 are hatched in saffron, so that they show without
 * colour sight too.
 */
export const RAMP = /* glsl */ `
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

/** Shape without gloss, tint or print curve: no shading may be mistaken for a reading. */
export const MEASURING = /* glsl */ `
vec3 measuringLight(vec3 c, vec3 n, float nl, float lit, float sky) {
  float light = 0.42 + 0.60 * clamp(nl * 0.75 + 0.25, 0.0, 1.0) * mix(0.62, 1.0, lit) + 0.20 * (0.5 + 0.5 * n.y);
  return c * light * mix(0.78, 1.0, sky);
}`

/** The ring of the brush lies on the surface wherever that is as far from the pointer as it reaches; a dot marks its middle. */
export const RING = /* glsl */ `
if (uRing.w > 0.0) {
  float far = distance(vPlace, uRing.xyz);
  float pixel = max(fwidth(far), 1e-5);
  float line = 1.0 - smoothstep(0.8, 1.8, abs(far - uRing.w) / pixel);
  float halo = 1.0 - smoothstep(1.8, 3.2, abs(far - uRing.w) / pixel);
  float dot_ = 1.0 - smoothstep(1.6, 2.6, far / pixel);
  gl_FragColor.rgb = mix(gl_FragColor.rgb, vec3(1.0), max(halo, dot_) * 0.65);
  gl_FragColor.rgb = mix(gl_FragColor.rgb, ${linear(tokens.ink)}, line);
}`
