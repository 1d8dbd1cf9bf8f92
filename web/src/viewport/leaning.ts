import * as THREE from 'three'

/** How square a view is to a plane for depth not to be seen: the cosine of some 12 degrees. */
const SQUARE = 0.978

/** The axes of the view in the world. */
export interface Sight {
  right: number[]
  up: number[]
  /** From the model to the eye. */
  back: number[]
}

/** Where to look from so that depth is seen, for a view that is square to a plane; null where depth is seen already. Level planes are
 *  looked at from the front and above, upright ones from above and a little from the right. */
export function leaned(sight: Sight, normal: THREE.Vector3): THREE.Vector3 | null {
  const [right, up, back] = [sight.right, sight.up, sight.back].map((v) => new THREE.Vector3().fromArray(v))
  if (Math.abs(back!.dot(normal)) < SQUARE) return null
  const level = Math.abs(normal.z) > 0.7
  return back!
    .multiplyScalar(0.72)
    .addScaledVector(up!, level ? -0.6 : 0.45)
    .addScaledVector(right!, 0.35)
    .normalize()
}
