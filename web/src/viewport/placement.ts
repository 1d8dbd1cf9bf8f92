import type { Label } from './labels'

/** A label where it is written: moved from its home where something else stands there. */
export interface Placed extends Label {
  /** Where it belongs, for a leader to it; left out where it stands there or hardly beside it. */
  homeX?: number
  homeY?: number
}

/** How far a label stands from its home, by its kind and id: where it stood before it stays if it cannot go home. */
export type Shifts = Map<string, { x: number; y: number }>

/** Of what is written: the width of a letter, what is about the letters, and the height, in pixels. */
const WRITTEN = { letter: 6.3, about: 10, high: 17 }
const SIZES = { letter: 7.3, about: 10, high: 20 }
/** Marks are as wide as high. */
const MARK = 16
/** Who gives way: what comes later in this list moves for what comes earlier. */
const RANKS = ['issue', 'grip', 'measured', 'dimension', 'reading-fail', 'reading', 'datum', 'constraint']
/** How many of its own heights a label may be moved, and how many of its widths. */
const ROWS = 5
const COLUMNS = 1
/** Marks of constraints go along the row, by so many. */
const PLACES = 8
/** Moved by no more than this it needs no leader. */
const NEAR = 14
/** Air between rows, and by how much a label may come to cover another before it moves once more: so it stands still in a moving view. */
const AIR = 2
const PATIENCE = 4
const CELL = 64
/** More cells than any picture is high. */
const ROOM = 4096

interface Box {
  x: number
  y: number
  w: number
  h: number
}

function boxOf({ kind, text, x, y }: Label): Box {
  if (kind === 'constraint' || kind === 'issue') return { x, y, w: MARK, h: MARK }
  const { letter, about, high } = kind === 'dimension' || kind === 'grip' ? SIZES : WRITTEN
  return { x, y, w: text.length * letter + about, h: high }
}

const meet = (a: Box, b: Box): boolean =>
  Math.abs(a.x - b.x) < (a.w + b.w) / 2 - 1e-6 && Math.abs(a.y - b.y) < (a.h + b.h) / 2 - 1e-6

/** Boxes by the cells that they touch, so that many labels are compared with few. */
class Taken {
  private readonly cells = new Map<number, Box[]>()

  free(box: Box): boolean {
    return !this.about(box).some((key) => this.cells.get(key)?.some((other) => meet(box, other)))
  }

  add(box: Box): void {
    for (const key of this.about(box)) {
      const here = this.cells.get(key)
      if (here) here.push(box)
      else this.cells.set(key, [box])
    }
  }

  private about({ x, y, w, h }: Box): number[] {
    const keys: number[] = []
    for (let i = Math.floor((x - w / 2) / CELL); i <= Math.floor((x + w / 2) / CELL); i++)
      for (let j = Math.floor((y - h / 2) / CELL); j <= Math.floor((y + h / 2) / CELL); j++)
        keys.push(i * ROOM + j)
    return keys
  }
}

/** Where a label may go instead, the nearest first. */
function tries(kind: string, { w, h }: Box): { x: number; y: number }[] {
  if (kind === 'constraint')
    return Array.from({ length: PLACES }, (_, i) => ({ x: (i + 1) * MARK, y: 0 })).concat(
      Array.from({ length: PLACES }, (_, i) => ({ x: i * MARK, y: MARK })),
    )
  const all: { x: number; y: number }[] = []
  for (let row = -ROWS; row <= ROWS; row++)
    for (let column = -COLUMNS; column <= COLUMNS; column++)
      if (row !== 0 || column !== 0) all.push({ x: (column * w) / 2, y: row * (h + AIR) })
  return all.sort((a, b) => Math.hypot(a.x, a.y) - Math.hypot(b.x, b.y))
}

/** Labels so that none covers another, each as near to its home as it goes. What lies outside the picture is left as it is; what finds
 *  no place stays at home.
 *  @param labels at their homes
 *  @param before where they stood; written anew
 *  @param room of the picture, in pixels
 *  @param held a size that is under the pointer: the others give way to it */
export function placed(
  labels: readonly Label[],
  before: Shifts,
  room: { width: number; height: number },
  held: string | null = null,
): Placed[] {
  const taken = new Taken()
  const key = (l: Label): string => `${l.kind} ${l.id}`
  const rank = (l: Label): number => (l.id === held ? -1 : RANKS.indexOf(l.kind))
  const order = labels
    .map((label, i) => ({ label, i }))
    .sort((a, b) => rank(a.label) - rank(b.label) || a.i - b.i)
  const found: Placed[] = [...labels]
  const now: Shifts = new Map()
  for (const { label, i } of order) {
    const home = boxOf(label)
    const seen = home.x > 0 && home.y > 0 && home.x < room.width && home.y < room.height
    if (!seen || !label.text) continue
    const at = (by: { x: number; y: number }): Box => ({ ...home, x: home.x + by.x, y: home.y + by.y })
    const fixed = label.kind === 'issue' || label.id === held
    if (fixed || taken.free(home)) {
      taken.add(home)
      continue
    }
    const kept = before.get(key(label))
    const still = kept && taken.free({ ...at(kept), w: home.w - PATIENCE, h: home.h - PATIENCE })
    const by = still ? kept : tries(label.kind, home).find((t) => taken.free(at(t)))
    taken.add(at(by ?? { x: 0, y: 0 }))
    if (!by) continue
    now.set(key(label), by)
    const moved: Placed = { ...label, x: label.x + by.x, y: label.y + by.y }
    const far = label.kind !== 'constraint' && Math.hypot(by.x, by.y) > NEAR
    found[i] = far ? { ...moved, homeX: label.x, homeY: label.y } : moved
  }
  before.clear()
  for (const [name, by] of now) before.set(name, by)
  return found
}
