/** Endings of files of triangles. */
export const MESH_ENDINGS = ['.stl', '.3mf', '.glb', '.gltf']

/** Endings of files of bodies and of triangles, as a file input takes them. */
export const SPACE_FILES = ['.step', '.stp', '.iges', '.igs', ...MESH_ENDINGS].join()

/** Units of triangles as the server calls them, and in words. */
export const MESH_UNITS = [
  { symbol: 'mm', words: 'Millimetres' },
  { symbol: 'cm', words: 'Centimetres' },
  { symbol: 'm', words: 'Metres' },
  { symbol: 'in', words: 'Inches' },
  { symbol: 'ft', words: 'Feet' },
  { symbol: 'um', words: 'Micrometres' },
]

export const isMesh = (name: string): boolean =>
  MESH_ENDINGS.some((ending) => name.toLowerCase().endsWith(ending))

/** Whether the format leaves open what its numbers mean. */
export const hasNoUnit = (name: string): boolean => name.toLowerCase().endsWith('.stl')
