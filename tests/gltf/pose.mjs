// Poses a GLB with three's own loader and mixer: prints, as JSON, the points in metres of each mesh at each asked second.
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { pathToFileURL } from 'node:url'

const [, , anchor, file, seconds] = process.argv
const require = createRequire(anchor)
const root = require.resolve('three').replace(/build[\\/].*$/, '')
globalThis.self = globalThis // the loader looks for a browser's names
const THREE = await import(pathToFileURL(`${root}build/three.module.js`))
const { GLTFLoader } = await import(pathToFileURL(`${root}examples/jsm/loaders/GLTFLoader.js`))
const bytes = readFileSync(file)
const gltf = await new GLTFLoader().parseAsync(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length), '')
const mixer = new THREE.AnimationMixer(gltf.scene)
const action = mixer.clipAction(gltf.animations[0])
action.setLoop(THREE.LoopOnce, 1) // a loop would wrap the last key round to the first
action.clampWhenFinished = true
action.play()
const answer = {}
for (const second of seconds.split(',').map(Number)) {
  mixer.setTime(second)
  gltf.scene.updateMatrixWorld(true)
  answer[second] = {}
  gltf.scene.traverse((node) => {
    if (!node.isSkinnedMesh) return
    node.skeleton.update()
    const points = []
    const p = new THREE.Vector3()
    for (let i = 0; i < node.geometry.attributes.position.count; i++) {
      node.getVertexPosition(i, p)
      p.applyMatrix4(node.matrixWorld)
      points.push(p.x, p.y, p.z)
    }
    answer[second][node.name] = points
  })
}
console.log(JSON.stringify(answer))
