<script setup lang="ts">
import { nextTick, onMounted, ref } from 'vue'
import type { PartCommand } from '../api/client'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ done: [] }>()
const part = usePart()
const work = useWork()
const dimension = work.sketchView?.dimensions.find((d) => d.id === props.id)
const text = ref(dimension?.value ?? '')
const error = ref<string | null>(null)
const field = ref<HTMLInputElement | null>(null)

async function accept(): Promise<void> {
  const command = {
    command: 'set-size',
    step: work.sketch,
    field: props.id,
    value: text.value,
  } as PartCommand
  const problem = await part.send(command)
  error.value = problem?.detail ?? null
  if (!problem) emit('done')
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
      :disabled="!dimension?.value"
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
