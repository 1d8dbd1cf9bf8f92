<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'

/** A button that unfolds a short list of things to do. */
defineProps<{ choices: readonly { label: string; run(): void; mark?: string }[]; width: string }>()
defineOptions({ inheritAttrs: false })
</script>

<template>
  <Menu as="span" class="relative inline-block">
    <MenuButton v-bind="$attrs"><slot /></MenuButton>
    <MenuItems
      class="absolute right-0 z-30 rounded border border-hair bg-sheet py-1 text-left font-normal text-ink shadow-lg"
      :class="width"
    >
      <MenuItem v-for="c in choices" :key="c.label" v-slot="{ active }"
        ><button
          type="button"
          class="block w-full px-3 py-1.5 text-left"
          :class="active ? 'bg-accent-soft' : ''"
          :data-show-kind="c.mark"
          @click="c.run()"
        >
          {{ c.label }}
        </button></MenuItem
      >
    </MenuItems>
  </Menu>
</template>
