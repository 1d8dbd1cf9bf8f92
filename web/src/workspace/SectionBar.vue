<script setup lang="ts">
import { FlipHorizontal2, X } from 'lucide-vue-next'
import { computed } from 'vue'
import { useLook } from '../stores/look'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'

const look = useLook()
const part = usePart()
const work = useWork()
const inch = computed(() => (part.snapshot?.units === 'in' ? 25.4 : 1))
const planes = computed(() => [
  ...['world/xy', 'world/yz', 'world/xz'].map((reference) => ({
    reference,
    label: reference.slice(6).toUpperCase(),
  })),
  ...(part.snapshot?.steps ?? [])
    .filter((s) => s.kind === 'plane' || s.kind === 'frame')
    .map((s) => ({ reference: s.id, label: s.name })),
  ...(work.picks.length === 1 && !planesHold(work.picks[0]!)
    ? [{ reference: work.picks[0]!, label: 'what is picked' }]
    : []),
])
function planesHold(name: string): boolean {
  return name.startsWith('world/') || (part.snapshot?.steps.some((s) => s.id === name) ?? false)
}
</script>

<template>
  <div
    v-if="look.section"
    class="absolute bottom-3 left-3 flex items-center gap-2 rounded border border-hair bg-sheet/95 px-2 py-1.5 shadow-sm"
    role="group"
    aria-label="Section"
    data-testid="section-bar"
  >
    <span class="text-muted">section</span>
    <select
      class="field"
      aria-label="Plane of the section"
      :value="look.section.reference"
      data-testid="section-plane"
      @change="look.cut(($event.target as HTMLSelectElement).value)"
    >
      <option
        v-if="!planes.some((p) => p.reference === look.section!.reference)"
        :value="look.section.reference"
      >
        a face
      </option>
      <option v-for="p in planes" :key="p.reference" :value="p.reference">{{ p.label }}</option>
    </select>
    <input
      type="range"
      min="-100"
      max="100"
      step="0.5"
      class="w-36 accent-[var(--accent)]"
      aria-label="Shift of the section"
      :value="look.section.offset"
      @input="look.shift(Number(($event.target as HTMLInputElement).value))"
    />
    <input
      class="field w-16"
      aria-label="Shift of the section as a number"
      data-testid="section-offset"
      :value="Math.round((look.section.offset / inch) * 1000) / 1000"
      @change="look.shift(Number(($event.target as HTMLInputElement).value) * inch)"
    />
    <span class="text-muted">{{ part.snapshot?.units }}</span>
    <button
      type="button"
      class="button flex items-center gap-1"
      data-testid="section-flip"
      @click="look.flip()"
    >
      <FlipHorizontal2 :size="13" />flip
    </button>
    <button
      type="button"
      class="rounded p-1.5 text-muted hover:text-alert"
      aria-label="Close the section"
      @click="look.section = null"
    >
      <X :size="14" />
    </button>
  </div>
</template>
