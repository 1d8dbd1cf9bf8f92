<script setup lang="ts">
import { X } from 'lucide-vue-next'
import { useForm } from '../stores/form'

const form = useForm()
</script>

<template>
  <section
    class="shrink-0 border-t border-hair px-3 py-1.5"
    aria-label="Forms laid aside"
    data-testid="forms-aside"
  >
    <h2 class="head">Laid aside</h2>
    <ul>
      <li v-for="(kept, i) in form.aside" :key="i" class="flex items-center gap-1.5">
        <span class="min-w-0 flex-1 truncate">{{ kept.title }}</span>
        <button type="button" class="button" :data-take-up="i" @click="form.takeUp(i)">Go on</button>
        <button
          type="button"
          class="rounded p-1.5 text-muted hover:text-alert"
          :aria-label="`Forget ${kept.title}`"
          @click="form.forget(i)"
        >
          <X :size="12" />
        </button>
      </li>
    </ul>
  </section>
</template>
