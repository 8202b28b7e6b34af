import * as THREE from 'three'

/** Paper behind the head: a pool of light, corners that fall off, and a grain finer than one step of colour against banding. */
export class Ground {
  readonly mesh: THREE.Mesh<THREE.PlaneGeometry, THREE.ShaderMaterial>

  constructor() {
    const material = new THREE.ShaderMaterial({
      depthTest: false,
      depthWrite: false,
      toneMapped: false,
      uniforms: { uColour: { value: new THREE.Color() }, uAspect: { value: 1 } },
      vertexShader: 'varying vec2 vAt; void main() { vAt = position.xy; gl_Position = vec4(position.xy, 1.0, 1.0); }',
      fragmentShader: /* glsl */ `
        varying vec2 vAt; uniform vec3 uColour; uniform float uAspect;
        void main() {
          vec2 p = (vAt - vec2(-0.18, 0.22)) * vec2(uAspect, 1.0);
          float grain = fract(52.9829189 * fract(dot(gl_FragCoord.xy, vec2(0.06711056, 0.00583715)))) - 0.5;
          gl_FragColor = vec4(uColour * mix(vec3(0.86, 0.83, 0.785), vec3(1.10, 1.11, 1.12), exp(-dot(p, p) * 0.85)), 1.0);
          #include <colorspace_fragment>
          gl_FragColor.rgb += grain * 2.0 / 255.0;
        }`,
    })
    this.mesh = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), material)
    this.mesh.renderOrder = -10
    this.mesh.frustumCulled = false
  }

  colour(hex: string) {
    ;(this.mesh.material.uniforms.uColour!.value as THREE.Color).set(hex)
  }

  aspect(wide: number) {
    this.mesh.material.uniforms.uAspect!.value = wide
  }

  dispose() {
    this.mesh.geometry.dispose()
    this.mesh.material.dispose()
  }
}
