<script setup lang="ts">
import { useDatum } from '../stores/datum'

/** Types a point where one is asked for: three coordinates make a point of the model, which is then picked. */
const emit = defineEmits<{ placed: [reference: string]; empty: []; leave: [] }>()
const { take = null } = defineProps<{
  /** Takes the text by itself; true where it was used. */
  take?: ((text: string) => Promise<boolean>) | null
}>()
const datum = useDatum()

async function enter(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const text = input.value.trim()
  if (!text) return emit('empty')
  const made = take ? await take(text) : await datum.placePoint(text)
  // What was refused stays, ready to be typed over.
  if (!made) return input.select()
  input.value = ''
  if (typeof made === 'string') emit('placed', made)
}
</script>

<template>
  <input
    class="field min-w-0"
    placeholder="x, y, z"
    aria-label="A point by its coordinates"
    data-field="place"
    @keydown.enter.prevent="enter"
    @keydown.esc.stop.prevent="emit('leave')"
  />
</template>
