import * as THREE from 'three'

const VERTEX = 'varying vec2 vAt; void main() { vAt = uv; gl_Position = vec4(position.xy, 0.0, 1.0); }'
const FRAGMENT = 'varying vec2 vAt; uniform sampler2D uFrom; uniform float uShare; void main() { gl_FragColor = vec4(texture2D(uFrom, vAt).rgb * uShare, 1.0); }'

/** The `i`th number of the sequence of Halton (1964) in a base: spread evenly over 0 to 1 however many are taken. */
export function halton(i: number, base: number): number {
  let share = 1
  let x = 0
  for (let k = i; k > 0; k = Math.floor(k / base)) {
    share /= base
    x += share * (k % base)
  }
  return x
}

const quad = (blending: THREE.Blending) =>
  new THREE.ShaderMaterial({
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
    blending,
    blendSrc: THREE.OneFactor,
    blendDst: THREE.OneFactor,
    uniforms: { uFrom: { value: null }, uShare: { value: 1 } },
    vertexShader: VERTEX,
    fragmentShader: FRAGMENT,
  })

/** Lays pictures of a still stage over one another, each of which was drawn a hair's breadth aside: smooth edges, soft shadows. */
export class Developing {
  private readonly sum = new THREE.WebGLRenderTarget(1, 1, { type: THREE.HalfFloatType, depthBuffer: false })
  private taken = new THREE.FramebufferTexture(1, 1)
  private readonly adding = quad(THREE.CustomBlending)
  private readonly giving = quad(THREE.NoBlending)
  private readonly mesh = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), this.adding)
  private readonly scene = new THREE.Scene()
  private readonly camera = new THREE.OrthographicCamera(-1, 1, 1, -1, 0, 1)

  constructor(private readonly renderer: THREE.WebGLRenderer) {
    this.mesh.frustumCulled = false
    this.scene.add(this.mesh)
  }

  /** Throw away what was laid together. */
  begin() {
    const { width, height } = this.renderer.domElement
    if (this.sum.width !== width || this.sum.height !== height) {
      this.sum.setSize(width, height)
      this.taken.dispose()
      this.taken = new THREE.FramebufferTexture(width, height)
    }
    this.renderer.setRenderTarget(this.sum)
    this.renderer.setClearColor(0, 0)
    this.renderer.clear()
    this.renderer.setRenderTarget(null)
  }

  /** Lay the picture that stands on the canvas over those before, as one of `count`. */
  add(count: number) {
    this.renderer.copyFramebufferToTexture(this.taken)
    this.adding.uniforms.uFrom!.value = this.taken
    this.adding.uniforms.uShare!.value = 1 / count
    this.through(this.adding, this.sum)
  }

  /** Show what was laid together. */
  show() {
    this.giving.uniforms.uFrom!.value = this.sum.texture
    this.through(this.giving, null)
  }

  dispose() {
    this.sum.dispose()
    this.taken.dispose()
    this.mesh.geometry.dispose()
    this.adding.dispose()
    this.giving.dispose()
  }

  private through(material: THREE.ShaderMaterial, target: THREE.WebGLRenderTarget | null) {
    const { autoClear } = this.renderer
    this.mesh.material = material
    this.renderer.autoClear = false
    this.renderer.setRenderTarget(target)
    this.renderer.render(this.scene, this.camera)
    this.renderer.setRenderTarget(null)
    this.renderer.autoClear = autoClear
  }
}
