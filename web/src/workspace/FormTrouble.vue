<script setup lang="ts">
import { useForm } from '../stores/form'

const form = useForm()
</script>

<template>
  <div
    role="alert"
    class="my-1 rounded border border-alert/30 bg-alert-soft px-2 py-1 text-alert"
    data-testid="form-refusal"
  >
    {{ form.trouble }}
    <div class="mt-1 flex flex-wrap gap-1">
      <button
        v-for="way in form.ways"
        :key="way.words"
        type="button"
        class="button max-w-full truncate"
        :title="way.words"
        :data-way="way.field"
        @click="form.follow(way)"
      >
        {{ way.words }}
      </button>
      <button type="button" class="button" data-testid="lay-aside" @click="form.layAside()">
        Lay it aside
      </button>
    </div>
  </div>
</template>
