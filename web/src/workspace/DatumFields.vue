<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useDatum } from '../stores/datum'
import PointField from './PointField.vue'

const datum = useDatum()
const typed = ref<Record<string, string>>({})
const LABELS: Record<string, string> = { before: 'on before', after: 'on past the end' }

/** The values that the datum or curve on the bench has. */
const fields = computed(() => {
  if (datum.answer) return datum.answer.fields.map((f) => ({ name: f.name, text: f.formula, shown: f.shown }))
  const d = datum.curve?.draft
  if (!d) return []
  const names =
    d.shape === 'line'
      ? (['before', 'after'] as const)
      : d.shape === 'spline'
        ? []
        : d.shape === 'arc'
          ? (['radius', 'diameter', 'from', 'to'] as const)
          : (['radius', 'diameter'] as const)
  return names.map((name) => ({ name, text: d[name] ?? '', shown: '' }))
})
const key = computed(() => fields.value.map((f) => f.name).join())
watch(key, () => (typed.value = {}))

async function hand(name: string): Promise<void> {
  const text = typed.value[name]
  if (text === undefined) return
  typed.value = Object.fromEntries(Object.entries(typed.value).filter(([n]) => n !== name))
  await datum.setValue(name, text)
}

async function enter(name: string, event: Event): Promise<void> {
  await hand(name)
  const field = event.target as HTMLInputElement
  if (await datum.accept()) field.blur()
  else field.select()
}

/** Whether a point is among the things that could be picked now. */
const pointed = computed(() =>
  datum.curve
    ? !['circle', 'arc'].includes(datum.curve.draft.shape) || datum.curve.draft.points.length === 0
    : datum.answer !== null && !fields.value.some((f) => f.name === 'x'),
)
</script>

<template>
  <label v-for="f in fields" :key="f.name" class="flex items-center gap-1.5">
    <span class="text-muted">{{ LABELS[f.name] ?? f.name }}</span>
    <input
      class="field w-[84px]"
      :value="typed[f.name] ?? f.text"
      :title="f.shown"
      :data-field="f.name"
      @input="typed[f.name] = ($event.target as HTMLInputElement).value"
      @keydown.enter.prevent="enter(f.name, $event)"
      @keydown.tab="hand(f.name)"
      @blur="hand(f.name)"
      @keydown.esc.stop.prevent="datum.close()"
      @focus="(datum.attend(f.name), ($event.target as HTMLInputElement).select())"
    />
  </label>
  <label v-if="pointed" class="flex items-center gap-1.5">
    <span class="text-muted">point at</span>
    <PointField
      class="w-32"
      :take="datum.curve ? datum.typePoint : undefined"
      @placed="(p) => datum.pick(p, [])"
      @empty="datum.accept()"
      @leave="datum.close()"
    />
  </label>
</template>
