<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { MESH_UNITS } from '../stores/meshFiles'

defineProps<{ file: string }>()
const emit = defineEmits<{ unit: [symbol: string]; close: [] }>()
</script>

<template>
  <Dialog class="relative z-40" :open="true" @close="emit('close')">
    <div class="fixed inset-0 bg-black/25" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="w-96 rounded border border-hair bg-sheet p-4 shadow-lg" data-testid="unit-question">
        <DialogTitle class="font-semibold">What do the numbers of this file mean?</DialogTitle>
        <p class="mt-1 text-muted">
          {{ file }} does not say it. It can be changed later, in the menu of its row.
        </p>
        <div class="mt-3 grid grid-cols-2 gap-2">
          <button
            v-for="u in MESH_UNITS"
            :key="u.symbol"
            type="button"
            class="button text-left"
            :data-testid="`unit-${u.symbol}`"
            @click="emit('unit', u.symbol)"
          >
            {{ u.words }}
          </button>
        </div>
        <button type="button" class="mt-3 text-muted hover:text-accent" @click="emit('close')">
          Do not import
        </button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
