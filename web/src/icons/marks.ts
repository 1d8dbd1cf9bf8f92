import { reactive } from 'vue'

/** The marks of constraints by their kind, as the server tells them: SVG paths in a box of 16 by 16. */
export const MARKS = reactive<Record<string, string>>({})
