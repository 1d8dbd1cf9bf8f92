<script setup lang="ts">
import { computed } from 'vue'
import type { WayOutMessage } from '../api/live'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'

const part = usePart()
const work = useWork()
const refusal = computed(() => work.answer?.refusal?.message || part.notice)

function show(out: WayOutMessage | null): void {
  work.foreseen = out?.preview ?? []
}

async function take(out: WayOutMessage): Promise<void> {
  part.notice = null
  await work.send(out.command)
}
</script>

<template>
  <div
    v-if="refusal"
    role="alert"
    class="absolute bottom-full left-[212px] z-20 mb-2 max-w-[min(600px,calc(100vw-570px))] rounded border border-alert/30 bg-alert-soft px-3 py-1.5 whitespace-normal text-alert shadow"
    data-testid="refusal"
  >
    {{ refusal }}
    <ul v-if="work.outs.length" class="mt-1.5 border-t border-alert/20 pt-1" data-testid="ways-out">
      <li v-for="out in work.outs" :key="out.words">
        <button
          type="button"
          class="w-full rounded px-1.5 py-1 text-left text-ink hover:bg-sheet focus:bg-sheet"
          @pointerenter="show(out)"
          @pointerleave="show(null)"
          @focus="show(out)"
          @blur="show(null)"
          @click="take(out)"
        >
          → {{ out.words }}
        </button>
      </li>
    </ul>
  </div>
</template>
