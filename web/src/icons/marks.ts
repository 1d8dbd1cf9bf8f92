import { reactive } from 'vue'

/** The marks of tools by their names (a constraint's is `tie-` and its kind), as the server tells them: SVG paths in a box of 16 by 16. */
export const MARKS = reactive<Record<string, string>>({})
