import * as THREE from 'three'
import { colour } from '../theme'
import { clear } from './lines'

const FAR = 1e5

/** Cuts meshes with a plane and closes the cut: where a ray has gone into more faces than out of them it lies inside, and
 * there the plane is filled (the stencil counts). */
export class SectionCaps {
  readonly group = new THREE.Group()
  private plane: THREE.Plane | null = null

  /** The half of space that is kept; null keeps all. */
  set(plane: THREE.Plane | null, meshes: THREE.Mesh[]): void {
    clear(this.group)
    this.plane = plane
    if (!plane) return
    const counting = (side: THREE.Side, op: THREE.StencilOp): THREE.MeshBasicMaterial =>
      new THREE.MeshBasicMaterial({
        side,
        depthWrite: false,
        depthTest: false,
        colorWrite: false,
        stencilWrite: true,
        stencilFunc: THREE.AlwaysStencilFunc,
        stencilFail: op,
        stencilZFail: op,
        stencilZPass: op,
        clippingPlanes: [plane],
      })
    for (const mesh of meshes) {
      for (const [side, op] of [
        [THREE.BackSide, THREE.IncrementWrapStencilOp],
        [THREE.FrontSide, THREE.DecrementWrapStencilOp],
      ] as const) {
        // A geometry of its own wrapper, so that freeing this group leaves the body's alone.
        const count = new THREE.Mesh(mesh.geometry.clone(), counting(side, op))
        count.renderOrder = 1.1
        this.group.add(count)
      }
    }
    const cap = new THREE.Mesh(
      new THREE.PlaneGeometry(FAR, FAR),
      new THREE.MeshBasicMaterial({
        color: colour('section'),
        side: THREE.DoubleSide,
        stencilWrite: true,
        stencilRef: 0,
        stencilFunc: THREE.NotEqualStencilFunc,
        stencilFail: THREE.ReplaceStencilOp,
        stencilZFail: THREE.ReplaceStencilOp,
        stencilZPass: THREE.ReplaceStencilOp,
      }),
    )
    plane.coplanarPoint(cap.position)
    cap.quaternion.setFromUnitVectors(new THREE.Vector3(0, 0, 1), plane.normal)
    cap.onAfterRender = (renderer) => renderer.clearStencil()
    cap.renderOrder = 1.2
    this.group.add(cap)
  }

  /** Whether a place was cut away. */
  hides(p: THREE.Vector3): boolean {
    return this.plane !== null && this.plane.distanceToPoint(p) < -1e-6
  }
}
