import type { Quality } from '../quality'

/** Value noise at the rest point: pores, seen only close up. */
const NOISE = /* glsl */ `
float hash(vec3 p) { p = fract(p * 0.3183099 + 0.1) * 17.0; return fract(p.x * p.y * p.z * (p.x + p.y + p.z)); }
float grain(vec3 x) {
  vec3 i = floor(x), f = fract(x); f = f * f * (3.0 - 2.0 * f);
  return mix(mix(mix(hash(i), hash(i + vec3(1,0,0)), f.x), mix(hash(i + vec3(0,1,0)), hash(i + vec3(1,1,0)), f.x), f.y),
             mix(mix(hash(i + vec3(0,0,1)), hash(i + vec3(1,0,1)), f.x), mix(hash(i + vec3(0,1,1)), hash(i + vec3(1,1,1)), f.x), f.y), f.z);
}
float pore(vec3 p) { return grain(p) + 0.5 * grain(p * 2.3); }`

const PORES = /* glsl */ `
if (uNear > 0.01) {
  vec3 at = vRest * 15.0; float step_ = 0.18;
  vec3 slope = vec3(pore(at + vec3(step_, 0, 0)), pore(at + vec3(0, step_, 0)), pore(at + vec3(0, 0, step_))) - pore(at);
  N = normalize(N - (slope - N * dot(slope, N)) * 0.42 * uNear);
  NL = dot(N, uKeyFrom);
}`

export const skinPars = (quality: Quality) => (quality === 'fine' ? NOISE : '')

/** Light that goes a way under the surface, red the farthest; sheen; lips and the inside of the mouth told by how red they are painted. */
export const skinLight = (quality: Quality) => /* glsl */ `
${quality === 'fine' ? PORES : ''}
float red = (c.r - c.g) / (c.r + c.g + 0.01);
float lip = smoothstep(0.56, 0.70, red) * (1.0 - smoothstep(0.765, 0.80, red));
float wet = smoothstep(0.755, 0.80, red);
float gloss = max(lip, wet);
/* round the corner light goes warm: red reaches farther than blue */
const vec3 REACH = vec3(0.30, 0.17, 0.12);
vec3 d = clamp((NL + REACH) / (1.0 + REACH), 0.0, 1.0); d *= mix(vec3(1.0), d, 0.35);
float open = mix(sky * sky, lit, smoothstep(-0.14, 0.16, NL)); /* beyond the terminator the shadow says nothing: the sky does */
vec3 s = vec3(pow(open, 0.87), open, open);
vec3 kick = KICK * clamp(dot(N, KICK_FROM) * 0.9 + 0.1, 0.0, 1.0) * sky * sky;
col = c * (KEY * d * s * mix(1.0, sky, 0.35) + room(N) * bounced(sky, c) + kick);
/* thin places let the light from behind through */
vec3 behind = KICK * clamp(dot(-N, KICK_FROM) * 0.7 + 0.3, 0.0, 1.0) + KEY * clamp(-NL, 0.0, 1.0) * 0.6;
col += vBaked.y * behind * vec3(0.21, 0.055, 0.030);
vec3 R = reflect(-V, N);
float rough = mix(0.47, 0.27, gloss);
vec3 mirrored = KEY * soft(R, uKeyFrom, KEY_BOX, rough, NV) * lit * clamp(NL * 4.0 + 0.3, 0.0, 1.0) * 1.25 + KICK * soft(R, KICK_FROM, KICK_BOX, rough, NV) * sky * sky;
col += fresnel(0.030, 0.45, NV) * mirrored * mix(1.0, 1.7, gloss);
col += lip * 0.16 * pane(R, uKeyFrom, vec2(0.24, 0.30), 0.22) * lit * sky;
col += wet * c * vec3(0.30, 0.20, 0.18) * (0.35 + 0.65 * smoothstep(0.0, 0.25, sky)); /* a lamp in the mouth: what is measured there must be seen */
/* down takes up light where it is seen edge on */
col += room(N) * sky * pow(1.0 - NV, 3.0) * 0.42 * vec3(1.0, 0.84, 0.70) * (1.0 - wet);`
