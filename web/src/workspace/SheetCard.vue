<script setup lang="ts">
import { X } from 'lucide-vue-next'

/** A card over the view with a heading and a cross: `named` is the heading, `closes` what the cross says. */
defineProps<{ named: string; closes: string }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <section
    class="absolute top-12 left-3 z-20 rounded-md border border-hair bg-sheet p-3 shadow-xl"
    :aria-label="named"
  >
    <div class="mb-2 flex items-center">
      <h2 class="head">{{ named }}</h2>
      <button
        type="button"
        class="ml-auto rounded p-1 hover:text-accent"
        :aria-label="closes"
        @click="emit('close')"
      >
        <X :size="15" />
      </button>
    </div>
    <slot />
  </section>
</template>
