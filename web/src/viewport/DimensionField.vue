<script setup lang="ts">
import { nextTick, onMounted, ref } from 'vue'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { resize } from '../stores/edits'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ done: [] }>()
const part = usePart()
const work = useWork()
const dimension = work.sketchView?.dimensions.find((d) => d.id === props.id)
const text = ref(dimension?.value ?? dimension?.now ?? '')
const error = ref<string | null>(null)
const field = ref<HTMLInputElement | null>(null)

async function accept(): Promise<void> {
  if (!dimension) return
  const command = dimension.value
    ? { command: 'set-size', step: work.sketch, field: props.id, value: text.value }
    : resize(work.sketch, `drive ${props.id}`, dimension, text.value)
  if (await work.send(JSON.stringify(command))) emit('done')
  else error.value = part.notice
}

onMounted(async () => {
  await nextTick()
  field.value?.focus()
  field.value?.select()
})
</script>

<template>
  <form
    class="absolute z-10 -translate-x-1/2 -translate-y-1/2"
    @submit.prevent="accept"
    @pointerdown.stop
    @pointerup.stop
  >
    <input
      ref="field"
      v-model="text"
      class="field w-28 text-center"
      :class="error ? 'border-alert' : 'border-accent'"
      :aria-label="`value of ${id}`"
      :aria-invalid="error !== null"
      :data-dimension-field="id"
      @keydown.esc.stop="emit('done')"
    />
    <p v-if="error" role="alert" class="absolute top-7 left-0 w-64 rounded bg-alert-soft p-1.5 text-alert">
      {{ error }}
    </p>
  </form>
</template>
