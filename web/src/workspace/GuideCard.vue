<script setup lang="ts">
import { Check, X } from 'lucide-vue-next'
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { STEPS, useGuide } from '../stores/guide'

/** The step of the guide that waits, with what to press shown where it is. */
const guide = useGuide()
const step = computed(() => STEPS[guide.at])
const ring = ref<{ left: number; top: number; width: number; height: number } | null>(null)
let timer: ReturnType<typeof setInterval> | undefined

/** What is pointed at moves and comes and goes with the panels. */
function look(): void {
  const target = step.value?.at
    .map((css) => document.querySelector<HTMLElement>(css))
    .find((e) => e && e.getClientRects().length > 0)
  const box = target?.getBoundingClientRect()
  ring.value = box
    ? { left: box.left - 4, top: box.top - 4, width: box.width + 8, height: box.height + 8 }
    : null
}
onMounted(() => (timer = setInterval(look, 250)))
onBeforeUnmount(() => clearInterval(timer))
</script>

<template>
  <div
    v-if="ring"
    class="pointer-events-none fixed z-40 rounded-md border-2 border-[var(--amber)] transition-all duration-200 motion-reduce:transition-none"
    :style="{
      left: `${ring.left}px`,
      top: `${ring.top}px`,
      width: `${ring.width}px`,
      height: `${ring.height}px`,
    }"
    aria-hidden="true"
    data-testid="guide-ring"
  />
  <section
    class="absolute bottom-14 left-4 z-20 w-80 rounded-md border border-[var(--amber)] bg-sheet p-3 shadow-xl"
    aria-label="Guide"
    data-testid="guide"
    :data-guide-step="guide.at"
  >
    <div class="mb-1.5 flex items-center gap-1.5">
      <span
        v-for="(s, i) in STEPS"
        :key="s.title"
        class="flex h-4 w-4 items-center justify-center rounded-full border text-[10px]"
        :class="
          guide.done[i]
            ? 'border-accent bg-accent text-on-accent'
            : i === guide.at
              ? 'border-[var(--amber)] font-semibold'
              : 'border-hair text-muted'
        "
        :title="s.title"
        ><Check v-if="guide.done[i]" :size="11" /><template v-else>{{ i + 1 }}</template></span
      >
      <button
        type="button"
        class="ml-auto rounded p-1.5 hover:text-accent"
        aria-label="Leave the guide"
        title="Leave the guide; the menu of the account takes it up again"
        @click="guide.on = false"
      >
        <X :size="15" />
      </button>
    </div>
    <div aria-live="polite">
      <template v-if="step">
        <p class="text-[14px] font-semibold">{{ step.title }}</p>
        <p class="mt-1">{{ step.how }}</p>
        <p v-if="step.keys" class="mt-1 text-muted">
          or by keys <kbd class="font-mono text-accent">{{ step.keys }}</kbd>
        </p>
      </template>
      <template v-else>
        <p class="text-[14px] font-semibold">That was all of it.</p>
        <p class="mt-1">
          A part in which nothing is left open, that can be changed by any of its sizes.
          <kbd class="font-mono text-accent">?</kbd> shows the keys of a bench,
          <kbd class="font-mono text-accent">/</kbd> finds a tool by what it is for.
        </p>
        <button type="button" class="button mt-2" data-testid="end-guide" @click="guide.on = false">
          Close
        </button>
      </template>
    </div>
  </section>
</template>
