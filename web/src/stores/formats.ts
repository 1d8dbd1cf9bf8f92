import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, reason, type FormatView } from '../api/client'

/** The file formats that a part can be written in, as the server lists them. */
export const useFormats = defineStore('formats', () => {
  const all = ref<FormatView[]>([])
  /** Why there are none. */
  const refusal = ref('')

  async function load(): Promise<void> {
    if (all.value.length > 0) return
    const { data, error } = await api.GET('/api/formats')
    if (data) all.value = data
    refusal.value = data ? '' : reason(error)
  }

  return { all, refusal, load }
})
