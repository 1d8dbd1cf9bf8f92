<script setup lang="ts">
import { computed } from 'vue'
import ToolIcon from '../icons/ToolIcon.vue'
import { useActions } from './actions'

const props = defineProps<{ bench: string }>()
const actions = useActions()
const shown = computed(() => actions.value.filter((a) => a.bench === props.bench))
</script>

<template>
  <div
    class="absolute bottom-4 left-4 z-20 rounded-md border border-hair bg-sheet p-3 shadow-xl"
    role="status"
    data-testid="stroke-card"
  >
    <p class="head mb-1.5">{{ bench }} — second stroke</p>
    <ul class="grid grid-cols-2 gap-x-5 gap-y-1">
      <li v-for="a in shown" :key="a.name" class="flex items-center gap-2">
        <kbd class="w-4 font-mono font-medium text-accent">{{ a.stroke }}</kbd><ToolIcon
          :name="a.icon"
          :size="14"
        />{{ a.label }}
      </li>
    </ul>
  </div>
</template>
