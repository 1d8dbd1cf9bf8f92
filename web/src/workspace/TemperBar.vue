<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import type { MotionMessage } from '../api/live'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { temper } from '../temper'
import FinishPanel from './FinishPanel.vue'
import ProfileIssues from './ProfileIssues.vue'

const emit = defineEmits<{ play: [motion: MotionMessage] }>()
const part = usePart()
const work = useWork()
const motions = shallowRef<MotionMessage[] | null>(null)
const open = ref(false)
const finishing = ref(false)
// At some sizes a linkage moves that could not in general.
const moving = computed(() => work.freedoms === 0 && (work.sketchView?.atTheseSizes ?? 0) > 0)
const dots = computed(() => Array.from({ length: Math.min(6, work.freedoms ?? 0) }))

/** What can move is worked out when somebody asks, and again for what the sketch has become. */
watch(
  () => (open.value ? [work.sketch, part.snapshot?.revision] : null),
  async (asked) => {
    const { sketch } = work
    if (!asked || !sketch) return (motions.value = null)
    const found = await part.live()?.motions(sketch)
    if (open.value && work.sketch === sketch) motions.value = found ?? null
  },
)

watch(
  () => work.sketch,
  () => (finishing.value = false),
)
</script>

<template>
  <div v-if="work.freedoms !== null" class="relative flex max-w-[290px] flex-wrap items-start gap-2">
    <button
      type="button"
      class="flex items-center gap-2 rounded border border-hair bg-sheet/95 px-2.5 py-1"
      data-testid="temper-bar"
      :data-freedoms="work.freedoms"
      :aria-expanded="open"
      @click="open = !open"
    >
      <span class="font-semibold" :style="{ color: `var(--${temper(work.freedoms)})` }">{{
        work.freedoms === 0
          ? moving
            ? 'set in general, moves here'
            : 'set'
          : `${work.freedoms} ${work.freedoms === 1 ? 'freedom' : 'freedoms'}`
      }}</span>
      <span class="flex gap-0.5" aria-hidden="true">
        <i
          v-for="(_, i) in dots"
          :key="i"
          class="h-2.5 w-2.5 rounded-full border-2"
          :style="{ borderColor: `var(--${temper(work.freedoms)})` }"
        />
      </span>
    </button>
    <button
      v-if="work.freedoms > 0"
      type="button"
      class="rounded border border-hair bg-sheet/95 px-2.5 py-1 hover:border-accent"
      data-testid="finish"
      :aria-expanded="finishing"
      @click="finishing = !finishing"
    >
      Finish it
    </button>
    <ProfileIssues />
    <div
      v-if="open"
      class="absolute top-9 left-0 z-20 w-72 rounded border border-hair bg-sheet p-2 shadow-lg"
    >
      <p v-if="work.sketchView?.remark" class="mb-1" data-testid="freedom-remark">
        {{ work.sketchView.remark }}
      </p>
      <p v-if="work.freedoms === 0 && !moving" class="text-muted">Nothing can move any more.</p>
      <template v-else>
        <p class="mb-1 text-muted">
          {{ motions ? 'What can still move; press one to see it:' : 'Looking for what can move …' }}
        </p>
        <ul>
          <li v-for="(m, i) in motions" :key="i">
            <button
              type="button"
              class="w-full rounded px-1.5 py-1 text-left hover:bg-accent-soft"
              @click="emit('play', m)"
            >
              {{ m.words }}
            </button>
          </li>
        </ul>
        <p v-if="motions && work.freedoms > motions.length" class="px-1.5 text-muted">
          and {{ work.freedoms - motions.length }} more
        </p>
      </template>
    </div>
    <FinishPanel v-if="finishing" @close="finishing = false" />
  </div>
</template>
