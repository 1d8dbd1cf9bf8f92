import * as THREE from 'three'
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js'
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js'
import { LineSegmentsGeometry } from 'three/examples/jsm/lines/LineSegmentsGeometry.js'
import { kept, release } from './looks'

export interface Stroke {
  colour: string
  width: number
  /** Dash and gap in millimetres; solid when missing. */
  dash?: [number, number]
  /** Drawn over everything else. */
  front?: boolean
  /** Whether its material is changed later, and so is its own. */
  own?: boolean
}

/** Line segments of a width in pixels: x y z of both ends, one after the other. */
export function strokes(segments: number[], stroke: Stroke): LineSegments2 {
  const geometry = new LineSegmentsGeometry()
  geometry.setPositions(segments)
  const make = (): LineMaterial =>
    new LineMaterial({
      color: new THREE.Color(stroke.colour),
      linewidth: stroke.width,
      dashed: stroke.dash !== undefined,
      dashSize: stroke.dash?.[0] ?? 1,
      gapSize: stroke.dash?.[1] ?? 1,
      depthTest: !stroke.front,
      transparent: true,
    })
  const dash = stroke.dash?.map((d) => d.toPrecision(3)).join()
  const look = `line ${stroke.colour} ${stroke.width} ${dash} ${stroke.front}`
  const material = stroke.own ? make() : kept(look, make)
  const lines = new LineSegments2(geometry, material)
  if (stroke.dash) lines.computeLineDistances()
  lines.renderOrder = stroke.front ? 10 : 1
  return lines
}

/** Solid lines one pixel wide, or less. Where a pixel of the page is one of the screen, they are drawn as such: wider ones are made of faces,
 * which software drawing takes five times as long for. */
export function hairs(segments: number[], stroke: Stroke): THREE.LineSegments | LineSegments2 {
  if (window.devicePixelRatio > 1.2) return strokes(segments, { ...stroke, width: Math.min(stroke.width, 1) })
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.Float32BufferAttribute(segments, 3))
  const make = (): THREE.LineBasicMaterial =>
    new THREE.LineBasicMaterial({ color: stroke.colour, depthTest: !stroke.front, transparent: true })
  const material = stroke.own ? make() : kept(`hair ${stroke.colour} ${stroke.front}`, make)
  const lines = new THREE.LineSegments(geometry, material)
  lines.renderOrder = stroke.front ? 10 : 1
  return lines
}

/** Frees what a group holds and empties it. */
export function clear(group: THREE.Object3D): void {
  for (const child of [...group.children]) {
    clear(child)
    if (child instanceof THREE.Mesh || child instanceof THREE.Points || child instanceof THREE.LineSegments) {
      child.geometry.dispose()
      for (const material of [child.material].flat()) release(material)
    }
    group.remove(child)
  }
}
