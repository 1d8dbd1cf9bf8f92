<script setup lang="ts">
import { useAsking } from '../../stores/asking'

/** Parameters to choose from, one or several. */
const props = defineProps<{ modelValue: string[]; one?: boolean; named: string }>()
const emit = defineEmits<{ 'update:modelValue': [string[]] }>()
const asking = useAsking()

function toggle(name: string): void {
  if (props.one) emit('update:modelValue', [name])
  else
    emit(
      'update:modelValue',
      props.modelValue.includes(name)
        ? props.modelValue.filter((n) => n !== name)
        : [...props.modelValue, name],
    )
}
</script>

<template>
  <div role="group" :aria-label="named" class="my-2 flex flex-wrap gap-1">
    <span class="py-0.5 text-muted">{{ named }}</span>
    <button
      v-for="k in asking.knobs"
      :key="k.name"
      type="button"
      class="rounded border px-1.5 py-0.5"
      :class="
        modelValue.includes(k.name)
          ? 'border-accent bg-accent-soft font-medium text-accent'
          : 'border-hair hover:bg-accent-soft'
      "
      :aria-pressed="modelValue.includes(k.name)"
      :title="`${k.note ? `${k.note}, ` : ''}${k.shown}${k.least || k.most ? `, from ${k.least ?? 'anything'} to ${k.most ?? 'anything'}` : ''}`"
      :data-knob="k.name"
      @click="toggle(k.name)"
    >
      {{ k.name }}
    </button>
    <span v-if="asking.knobs.length === 0" class="text-muted"
      >The part has no parameters that are numbers of their own.</span
    >
  </div>
</template>
