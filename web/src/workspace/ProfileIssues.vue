<script setup lang="ts">
import { computed, ref } from 'vue'
import type { SketchView } from '../api/client'
import { useWork } from '../stores/work'
import { editSketch } from '../stores/edits'

type Issue = SketchView['issues'][number]

const work = useWork()
const open = ref(false)
const issues = computed(() => work.sketchView?.issues ?? [])

async function mend(issue: Issue): Promise<void> {
  await work.send(JSON.stringify(editSketch(work.sketch, 'close the gap', issue.mend)))
}
</script>

<template>
  <div v-if="issues.length > 0" class="relative">
    <button
      type="button"
      class="rounded border border-alert/40 bg-alert-soft px-2.5 py-1 text-alert"
      data-testid="issues"
      :aria-expanded="open"
      @click="open = !open"
    >
      {{ issues.length }} on the profile
    </button>
    <ul
      v-if="open"
      class="absolute top-9 left-0 z-20 max-h-72 w-96 overflow-auto rounded border border-hair bg-sheet p-2 shadow-lg"
    >
      <li
        v-for="(issue, i) in issues"
        :key="i"
        class="flex items-baseline gap-2 rounded px-1.5 py-0.5 hover:bg-accent-soft"
        :data-issue="issue.kind"
        @pointerenter="work.touched = [...issue.of]"
        @pointerleave="work.touched = []"
      >
        <span class="flex-1">{{ issue.words }}</span>
        <button v-if="issue.mend" type="button" class="button" data-testid="mend" @click="mend(issue)">
          Close it
        </button>
      </li>
    </ul>
  </div>
</template>
