<script setup lang="ts">
import { ref } from 'vue'
import { useAccount } from '../stores/account'

const account = useAccount()
const current = ref('')
const next = ref('')
const error = ref<string | null>(null)
const done = ref(false)
const busy = ref(false)

async function change(): Promise<void> {
  busy.value = true
  done.value = false
  error.value = await account.changePassword(current.value, next.value)
  busy.value = false
  if (error.value) return
  done.value = true
  current.value = next.value = ''
}
</script>

<template>
  <div class="flex h-full flex-col">
    <header class="flex items-center gap-3 border-b border-hair bg-sheet px-5 py-2.5">
      <img src="/mark.svg" alt="" class="h-6 w-6" /><span class="text-base font-semibold">Ratiogon</span>
      <RouterLink to="/parts" class="button ml-auto">Parts</RouterLink>
    </header>
    <main class="flex-1 overflow-auto p-8">
      <div class="mx-auto max-w-xl">
        <h1 class="text-2xl font-semibold">Account</h1>
        <p class="mt-1 text-muted">{{ account.email }}</p>
        <form class="mt-8 flex w-80 flex-col gap-3" @submit.prevent="change">
          <h2 class="text-lg font-semibold">Another password</h2>
          <input type="hidden" autocomplete="username" :value="account.email" />
          <label class="flex flex-col gap-1"
            >Present password<input
              v-model="current"
              type="password"
              required
              maxlength="128"
              autocomplete="current-password"
              class="field py-1.5"
              name="current"
          /></label>
          <label class="flex flex-col gap-1"
            >New password<input
              v-model="next"
              type="password"
              required
              minlength="8"
              maxlength="128"
              autocomplete="new-password"
              class="field py-1.5"
              name="next"
          /></label>
          <p class="text-muted">Whoever is signed in to this account elsewhere is signed out.</p>
          <p v-if="error" role="alert" class="rounded bg-alert-soft p-2 text-alert">{{ error }}</p>
          <p v-if="done" role="status" class="rounded bg-accent-soft p-2">
            The password is changed; other browsers are signed out.
          </p>
          <button class="button-main py-2" :disabled="busy">Change the password</button>
        </form>
      </div>
    </main>
  </div>
</template>
