import * as THREE from 'three'
import { colour } from '../theme'
import { clear, strokes } from './lines'
import { SketchPlane } from './plane'
import type { Stage } from './stage'

export interface DatumPlane {
  name: string
  label: string
  numbers: number[]
}

/** Datum planes as outlined squares, as large as what stands on them, picked by their rims or faces. */
export class DatumLayer {
  private readonly group = new THREE.Group()
  private planes: { name: string; label: string; plane: SketchPlane; mesh: THREE.Mesh; size: number }[] = []

  constructor(private readonly stage: Stage) {
    stage.scene.add(this.group)
  }

  show(datums: DatumPlane[], size: number, hover: string, picks: string[]): void {
    clear(this.group)
    this.planes = datums.map((d) => {
      const plane = new SketchPlane(d.numbers)
      const tint = picks.includes(d.name)
        ? colour('picked')
        : d.name === hover
          ? colour('hover')
          : colour('muted')
      const strong = picks.includes(d.name) || d.name === hover
      const corners = [
        plane.at(-size, -size),
        plane.at(size, -size),
        plane.at(size, size),
        plane.at(-size, size),
      ] as const
      const geometry = new THREE.BufferGeometry().setFromPoints([...corners])
      geometry.setIndex([0, 1, 2, 0, 2, 3])
      const material = new THREE.MeshBasicMaterial({
        color: tint,
        transparent: true,
        opacity: strong ? 0.16 : 0.04,
        side: THREE.DoubleSide,
        depthWrite: false,
      })
      const mesh = new THREE.Mesh(geometry, material)
      mesh.userData.name = d.name
      this.group.add(mesh)
      const rim = corners.flatMap((c, i) => [...c, ...corners[(i + 1) % 4]!])
      this.group.add(strokes(rim, { colour: tint, width: strong ? 2 : 1 }))
      return { name: d.name, label: d.label, plane, mesh, size }
    })
    this.stage.redraw()
  }

  pick(event: PointerEvent | MouseEvent): string {
    const ray = this.stage.ray(event)
    const hit = new THREE.Raycaster(ray.origin, ray.direction).intersectObjects(
      this.planes.map((p) => p.mesh),
      false,
    )[0]
    return (hit?.object.userData.name as string | undefined) ?? ''
  }

  labels(): { text: string; at: THREE.Vector3 }[] {
    return this.planes.map((p) => ({ text: p.label, at: p.plane.at(-p.size * 0.94, p.size * 0.9) }))
  }
}
