<script setup lang="ts">
import { X } from 'lucide-vue-next'
import { ref } from 'vue'
import { follow } from './dragging'

/** A card over the view with a heading and a cross: `named` is the heading, `closes` what the cross says. It goes where its heading
 *  is dragged, and back where it was when that is pressed twice. */
defineProps<{ named: string; closes: string }>()
const emit = defineEmits<{ close: [] }>()
const card = ref<HTMLElement | null>(null)
const shift = ref({ x: 0, y: 0 })

/** Follows the pointer, as long as the heading stays within the view. */
function drag(event: PointerEvent): void {
  const [x, y] = [shift.value.x - event.clientX, shift.value.y - event.clientY]
  const room = card.value!.offsetParent?.getBoundingClientRect()
  const at = card.value!
  const most = { x: (room?.width ?? 0) - at.offsetLeft - 80, y: (room?.height ?? 0) - at.offsetTop - 40 }
  follow(event, (e) => {
    shift.value = {
      x: Math.max(-at.offsetLeft, Math.min(most.x, x + e.clientX)),
      y: Math.max(-at.offsetTop, Math.min(most.y, y + e.clientY)),
    }
  })
}
</script>

<template>
  <section
    ref="card"
    class="absolute top-12 left-3 z-20 rounded-md border border-hair bg-sheet p-3 shadow-xl"
    :style="shift.x || shift.y ? { transform: `translate(${shift.x}px, ${shift.y}px)` } : undefined"
    :aria-label="named"
  >
    <div
      class="mb-2 flex cursor-move touch-none items-center"
      title="Drag the card away from what it covers; press twice to put it back"
      @pointerdown.self="drag"
      @dblclick="shift = { x: 0, y: 0 }"
    >
      <h2 class="head pointer-events-none">{{ named }}</h2>
      <button
        type="button"
        class="ml-auto rounded p-1.5 hover:text-accent"
        :aria-label="closes"
        @click="emit('close')"
      >
        <X :size="15" />
      </button>
    </div>
    <slot />
  </section>
</template>
