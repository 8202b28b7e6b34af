import * as THREE from 'three'
import type { Quality } from '../quality'

const vec3 = (v: THREE.Vector3 | readonly number[]) => `vec3(${(v instanceof THREE.Vector3 ? v.toArray() : v).map((x) => x.toFixed(4)).join(', ')})`

/** A window upper left, with a shadow; all else is light without one and stands in the shaders. */
export const KEY_FROM = new THREE.Vector3(-27, 35, 40).normalize()
const KICK_FROM = new THREE.Vector3(30, 22, -34).normalize()
const FILL_FROM = new THREE.Vector3(38, 6, 26).normalize()

/** Lights and what they do to any surface. Colours are linear; `from` points to a light. */
export const studio = (quality: Quality) => /* glsl */ `
const vec3 KEY = vec3(1.30, 1.255, 1.19);
const vec3 KICK = vec3(0.86, 0.85, 0.83); /* a kicker behind right */
const vec3 KICK_FROM = ${vec3(KICK_FROM)};
const vec3 FILL = vec3(0.15, 0.18, 0.20); /* wide, low right */
const vec3 FILL_FROM = ${vec3(FILL_FROM)};
const vec3 SKY = vec3(0.40, 0.415, 0.43);
const vec3 GROUND = vec3(0.31, 0.285, 0.255); /* paper below */
const float KEY_BOX = 34.0, KICK_BOX = 22.0; /* how sharp each stands in a mirror */
uniform vec3 uKeyFrom;

/* light from all round on a surface that looks along n */
vec3 room(vec3 n) {
  float f = 0.5 + 0.5 * dot(n, FILL_FROM);
  return mix(GROUND, SKY, 0.5 + 0.5 * n.y) + FILL * f * f;
}
/* what is seen of the sky with what neighbours of the same colour throw back, so that folds go warm, not grey (Jimenez et al. 2016) */
vec3 bounced(float sky, vec3 c) {
  vec3 p = 2.0404 * c - 0.3324, q = -4.7951 * c + 0.6417, r = 2.7552 * c + 0.6903;
  return max(vec3(sky), ((sky * p + q) * sky + r) * sky);
}
/* a soft box mirrored by a rough surface: a spherical Gaussian widened by the surface's own (Wang et al. 2009) */
float soft(vec3 mirrored, vec3 from, float box, float rough, float nv) {
  float a = rough * rough, s = 1.0 / (1.0 / box + 2.0 * (nv + 0.12) * a * a);
  return 0.5 * s * exp(s * (dot(mirrored, from) - 1.0));
}
/* a rounded square of light mirrored sharply: the window in an eye, on a lip */
float pane(vec3 mirrored, vec3 from, vec2 half_, float edge) {
  float z = dot(mirrored, from);
  if (z < 0.3) return 0.0;
  vec3 u = normalize(cross(vec3(0.0, 1.0, 0.0), from)), w = cross(from, u);
  vec2 q = abs(vec2(dot(mirrored, u), dot(mirrored, w)) / z) - half_ + 0.06;
  float d = length(max(q, 0.0)) + min(max(q.x, q.y), 0.0) - 0.06;
  return 1.0 - smoothstep(-edge, edge, d);
}
/* Schlick's: more is mirrored where a surface is seen edge on */
float fresnel(float least, float most, float nv) { return least + most * pow(1.0 - nv, 5.0); }
/* the curve of a print: mid tones as they are, a soft shoulder; a part of it by luminance, so that hues hold */
vec3 printed(vec3 x) {
  vec3 y = x * (x + 0.5612) / (x * (0.9872 * x + 0.5497) + 0.6271);
  float l = dot(x, vec3(0.27, 0.63, 0.10)), m = l * (l + 0.5612) / (l * (0.9872 * l + 0.5497) + 0.6271);
  return mix(y, min(x * (m / max(l, 1e-4)), vec3(1.0)), 0.3);
}
float litByKey(float nl) {
  #if NUM_DIR_LIGHT_SHADOWS > 0
  if (!receiveShadow || nl < -0.35) return 1.0;
  vec4 at = vDirectionalShadowCoord[0];
  if (any(lessThan(at.xyz, vec3(0.0))) || any(greaterThan(at.xyz, vec3(1.0)))) return 1.0; /* beyond what the map shows */
  ${
    quality === 'fine'
      ? 'return getShadow(directionalShadowMap[0], directionalLightShadows[0].shadowMapSize, 1.0, directionalLightShadows[0].shadowBias, directionalLightShadows[0].shadowRadius, at);'
      : 'return texture(directionalShadowMap[0], vec3(at.xy, at.z + directionalLightShadows[0].shadowBias));'
  }
  #else
  return 1.0;
  #endif
}`
