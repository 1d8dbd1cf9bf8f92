<script setup lang="ts">
import { ref, watch } from 'vue'
import type { PartCommand, StepView } from '../api/client'
import { usePart } from '../stores/part'

/** A size in its field; `narrow` where a name needs the room, as wide as usual while it is typed in. */
const props = defineProps<{ step: string; size: StepView['sizes'][number]; narrow?: boolean }>()
const part = usePart()
const text = ref(props.size.formula)
const error = ref<string | null>(null)

watch(
  () => props.size.formula,
  (now) => (text.value = now),
)

async function accept(): Promise<void> {
  if (text.value === props.size.formula) {
    error.value = null
    return
  }
  const problem = await part.send({
    command: 'set-size',
    step: props.step,
    field: props.size.field,
    value: text.value,
  } as PartCommand)
  error.value = problem?.detail ?? null
}

function revert(): void {
  text.value = props.size.formula
  error.value = null
}
</script>

<template>
  <span class="relative inline-block" :class="narrow ? 'h-6 w-[68px] align-middle' : ''">
    <input
      v-model="text"
      class="field text-right"
      :class="[
        error ? 'border-alert' : '',
        narrow ? 'absolute top-0 right-0 w-[68px] focus:z-10 focus:w-[132px]' : 'w-[104px]',
      ]"
      :title="size.formula === size.shown ? '' : `= ${size.shown}`"
      :aria-label="`${size.field} of ${step}`"
      :aria-invalid="error !== null"
      :data-size="`${step}/${size.field}`"
      @keydown.enter="accept"
      @keydown.esc="revert"
      @blur="accept"
      @focus="($event.target as HTMLInputElement).select()"
    />
    <span
      v-if="error"
      role="alert"
      class="absolute top-7 right-0 z-30 w-64 rounded bg-alert-soft p-1.5 text-left text-alert shadow"
      >{{ error }}</span
    >
  </span>
</template>
