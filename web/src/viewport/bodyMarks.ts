import * as THREE from 'three'
import { pairs, type Shown } from './bodyShape'
import { strokes } from './lines'

/** The triangles of a face, without what else the body has: its buffers are large and stay as they are. */
function triangles({ mesh, starts }: Shown, face: number): THREE.BufferGeometry {
  const from = mesh.geometry.getAttribute('position')
  const index = mesh.geometry.getIndex()!
  const [first, end] = [3 * starts[face]!, 3 * starts[face + 1]!]
  const places = new Float32Array(3 * (end - first))
  for (let i = first; i < end; i++) {
    const at = index.getX(i)
    places[3 * (i - first)] = from.getX(at)
    places[3 * (i - first) + 1] = from.getY(at)
    places[3 * (i - first) + 2] = from.getZ(at)
  }
  return new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(places, 3))
}

/** Marks a face, an edge or a vertex wherever bodies have one of that name. */
export function paintMark(
  into: THREE.Group,
  bodies: readonly Shown[],
  name: string,
  tint: string,
  opacity: number,
): void {
  for (const body of bodies) {
    const { message, edges, vertices } = body
    const face = message.faces.indexOf(name)
    if (face >= 0) {
      const material = new THREE.MeshBasicMaterial({
        color: tint,
        transparent: true,
        opacity,
        side: THREE.DoubleSide,
      })
      material.polygonOffset = true
      material.polygonOffsetFactor = -1
      into.add(new THREE.Mesh(triangles(body, face), material))
    }
    const edge = message.edges.indexOf(name)
    if (edge >= 0) into.add(strokes(pairs(edges[edge]!), { colour: tint, width: 4, front: true }))
    const vertex = message.vertexNames.indexOf(name)
    if (vertex >= 0) {
      const geometry = new THREE.BufferGeometry().setFromPoints([vertices[vertex]!])
      into.add(
        new THREE.Points(
          geometry,
          new THREE.PointsMaterial({ color: tint, size: 11, sizeAttenuation: false, depthTest: false }),
        ),
      )
    }
  }
}
