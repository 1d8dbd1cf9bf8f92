<script setup lang="ts">
import { CircleAlert, Copy, Pencil, Tag, Trash2, Undo2 } from 'lucide-vue-next'
import { nextTick, ref } from 'vue'
import type { PartListing } from '../api/client'
import { currentTheme } from '../theme'

const props = defineProps<{ part: PartListing; chosen: boolean }>()
const emit = defineEmits<{
  choose: []
  rename: [name: string]
  tag: [tags: string[]]
  copy: []
  remove: []
  restore: []
  forever: []
}>()
const dark = currentTheme() === 'dark'
const editing = ref<'name' | 'tags' | null>(null)
const text = ref('')
const field = ref<HTMLInputElement | null>(null)

async function edit(what: 'name' | 'tags'): Promise<void> {
  editing.value = what
  text.value = what === 'name' ? props.part.name : props.part.tags.join(', ')
  await nextTick()
  field.value?.select()
}

function accept(): void {
  if (editing.value === 'name') emit('rename', text.value)
  else if (editing.value === 'tags') emit('tag', text.value.split(','))
  editing.value = null
}
</script>

<template>
  <li
    class="group relative flex flex-col overflow-hidden rounded-md border bg-sheet"
    :class="chosen ? 'border-accent' : 'border-hair'"
    :data-part="part.name"
  >
    <input
      type="checkbox"
      class="absolute top-2 left-2 z-10 h-6 w-6 accent-[var(--accent)]"
      :checked="chosen"
      :aria-label="`Choose ${part.name}`"
      @change="emit('choose')"
    />
    <component
      :is="part.deleted ? 'div' : 'RouterLink'"
      :to="`/parts/${part.id}`"
      class="block"
      :aria-label="part.deleted ? undefined : `Open ${part.name}`"
    >
      <img
        v-if="part.hasPicture && !part.deleted"
        :src="`/api/parts/${part.id}/picture?dark=${dark}&at=${part.drawn}`"
        alt=""
        class="h-44 w-full border-b border-hair bg-canvas object-contain"
        data-testid="part-picture"
      />
      <span v-else class="flex h-44 items-center justify-center border-b border-hair bg-canvas text-muted">{{
        part.deleted
          ? `deleted ${new Date(part.deleted).toLocaleDateString()}`
          : part.drawn === part.revision
            ? 'nothing to see yet'
            : 'being drawn …'
      }}</span>
      <span v-if="editing !== 'name'" class="block truncate px-3 pt-2.5 text-[15px] font-medium">{{
        part.name
      }}</span>
    </component>
    <form v-if="editing" class="px-3 pt-2" @submit.prevent="accept">
      <input
        ref="field"
        v-model="text"
        class="field w-full"
        :maxlength="editing === 'name' ? 120 : 520"
        :aria-label="editing === 'name' ? 'Name of the part' : 'Tags, with commas between'"
        :placeholder="editing === 'tags' ? 'tags, with commas between' : ''"
        @keydown.esc.stop="editing = null"
        @blur="editing = null"
      />
    </form>
    <span class="block px-3 text-muted"
      >{{ part.steps }} steps · {{ new Date(part.changed).toLocaleString() }}</span
    >
    <span v-if="part.failing > 0" class="flex items-center gap-1 px-3 text-alert" data-testid="part-failing"
      ><CircleAlert :size="13" />{{
        part.failing === 1 ? '1 step fails' : `${part.failing} steps fail`
      }}</span
    >
    <span class="flex flex-wrap gap-1 px-3 pt-1">
      <span
        v-for="t in part.tags"
        :key="t"
        class="rounded border border-hair px-1.5 text-[11.5px] text-muted"
        data-testid="part-tag"
        >{{ t }}</span
      >
    </span>
    <span class="mt-auto flex gap-0.5 px-2 py-1.5">
      <template v-if="part.deleted">
        <button type="button" class="tool" data-do="restore" @click="emit('restore')">
          <Undo2 :size="14" />Bring back
        </button>
        <button
          type="button"
          class="tool ml-auto hover:text-alert"
          data-do="forever"
          @click="emit('forever')"
        >
          <Trash2 :size="14" />Throw away
        </button>
      </template>
      <template v-else>
        <button
          type="button"
          class="tool"
          data-do="rename"
          :aria-label="`Rename ${part.name}`"
          title="Rename"
          @click="edit('name')"
        >
          <Pencil :size="14" />
        </button>
        <button
          type="button"
          class="tool"
          data-do="copy"
          :aria-label="`Copy ${part.name}`"
          title="Copy"
          @click="emit('copy')"
        >
          <Copy :size="14" />
        </button>
        <button
          type="button"
          class="tool"
          data-do="tag"
          :aria-label="`Tags of ${part.name}`"
          title="Tags"
          @click="edit('tags')"
        >
          <Tag :size="14" />
        </button>
        <button
          type="button"
          class="tool ml-auto hover:text-alert"
          data-do="delete"
          :aria-label="`Delete ${part.name}`"
          title="Delete; it can be had back for 30 days"
          @click="emit('remove')"
        >
          <Trash2 :size="14" />
        </button>
      </template>
    </span>
  </li>
</template>

<style scoped>
@reference '../style.css';
.tool {
  @apply flex min-h-6 items-center gap-1 rounded px-1.5 py-1 text-muted hover:text-accent;
}
</style>
