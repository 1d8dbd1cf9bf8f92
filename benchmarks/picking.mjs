// Hover and pick on a body of 200 000 triangles: one ray through the bounding-volume hierarchy for each move of the pointer.
const modules = new URL('../web/node_modules/', import.meta.url)
const THREE = await import(new URL('three/build/three.module.js', modules))
const { computeBoundsTree, acceleratedRaycast } = await import(new URL('three-mesh-bvh/src/index.js', modules))
THREE.BufferGeometry.prototype.computeBoundsTree = computeBoundsTree
THREE.Mesh.prototype.raycast = acceleratedRaycast

const geometry = new THREE.TorusKnotGeometry(50, 15, 1000, 100)
const triangles = geometry.getIndex().count / 3
let began = performance.now()
geometry.computeBoundsTree({ indirect: true })
const built = performance.now() - began
const mesh = new THREE.Mesh(geometry)
const times = []
let hits = 0
for (let i = 0; i < 2000; i++) {
  const origin = new THREE.Vector3(((i * 37) % 160) - 80, ((i * 91) % 160) - 80, 200)
  began = performance.now()
  hits += new THREE.Raycaster(origin, new THREE.Vector3(0, 0, -1)).intersectObject(mesh, false).length > 0 ? 1 : 0
  times.push(performance.now() - began)
}
times.sort((a, b) => a - b)
const p95 = times[Math.floor(times.length * 0.95)]
const aim = 1000 / 60
console.log(
  `${`hover or pick, ${triangles} triangles, p95 (tree built in ${built.toFixed(0)} ms; ${hits} of 2000 hit)`.padEnd(72)} ${`${p95.toFixed(3)} ms`.padEnd(30)} aim ${aim.toFixed(1)} ms   ${p95 <= aim ? 'met' : 'MISSED'}`,
)
