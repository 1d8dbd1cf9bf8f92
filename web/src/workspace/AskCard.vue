<script setup lang="ts">
import { onBeforeUnmount } from 'vue'
import { QUESTIONS, useAsking } from '../stores/asking'
import AimPane from './asking/AimPane.vue'
import CoursePane from './asking/CoursePane.vue'
import FlexPane from './asking/FlexPane.vue'
import TolerancesPane from './asking/TolerancesPane.vue'
import VariantsPane from './asking/VariantsPane.vue'
import WhyPane from './asking/WhyPane.vue'
import DrivesList from './DrivesList.vue'
import SheetCard from './SheetCard.vue'

/** What can be asked of the part: one question at a time, of a reading or of all of it. */
const emit = defineEmits<{ close: [] }>()
const asking = useAsking()
onBeforeUnmount(() => (asking.lit = []))

function turn(name: (typeof QUESTIONS)[number]['name']): void {
  asking.lit = []
  asking.begin(name)
}
</script>

<template>
  <SheetCard
    named="Ask the part"
    closes="Close the questions"
    class="flex max-h-[calc(100%-60px)] w-[680px] max-w-[calc(100%-24px)] flex-col"
    data-testid="ask-card"
    @close="emit('close')"
  >
    <div class="mb-2 flex flex-wrap gap-1 border-b border-hair pb-2" role="tablist" aria-label="Questions">
      <button
        v-for="q in QUESTIONS"
        :key="q.name"
        type="button"
        role="tab"
        class="rounded px-2 py-1"
        :class="asking.open === q.name ? 'bg-accent-soft font-medium text-accent' : 'hover:bg-accent-soft'"
        :aria-selected="asking.open === q.name"
        :data-question="q.name"
        @click="turn(q.name)"
      >
        {{ q.label }}
      </button>
    </div>
    <div class="min-h-0 overflow-y-auto">
      <label
        v-if="QUESTIONS.find((q) => q.name === asking.open)?.of === 'reading'"
        class="mb-2 flex items-center gap-2"
        ><span class="text-muted">of</span>
        <select
          v-if="asking.readings.length"
          v-model="asking.reading"
          class="field font-medium"
          aria-label="which reading"
        >
          <option v-for="r in asking.readings" :key="r.id" :value="r.id">{{ r.name }}</option>
        </select>
        <span v-else class="text-muted"
          >The part has no readings: measure something, then press a value to keep it.</span
        >
      </label>
      <template v-if="asking.readings.length">
        <DrivesList v-if="asking.open === 'drives'" :key="asking.reading" :reading="asking.reading" />
        <TolerancesPane v-if="asking.open === 'tolerances'" />
        <AimPane v-if="asking.open === 'aim'" />
        <CoursePane v-if="asking.open === 'course'" />
      </template>
      <FlexPane v-if="asking.open === 'flex'" />
      <VariantsPane v-if="asking.open === 'variants'" />
      <WhyPane v-if="asking.open === 'why'" />
    </div>
  </SheetCard>
</template>
