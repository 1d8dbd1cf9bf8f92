<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, type AccountKept } from '../api/client'
import { useAccount } from '../stores/account'
import { inWords } from '../stores/bytes'
import CodeCard from './CodeCard.vue'

const account = useAccount()
const router = useRouter()
const current = ref('')
const next = ref('')
const confirmed = ref('')
const leaving = ref('')
const error = ref<string | null>(null)
const codeError = ref<string | null>(null)
const leaveError = ref<string | null>(null)
const code = ref<string | null>(null)
const done = ref(false)
const busy = ref(false)
const sure = ref(false)
const kept = ref<AccountKept | null>(null)

onMounted(async () => {
  kept.value = (await api.GET('/api/account/kept')).data ?? null
})

async function during(work: () => Promise<void>): Promise<void> {
  busy.value = true
  await work()
  busy.value = false
}

const change = (): Promise<void> =>
  during(async () => {
    done.value = false
    error.value = await account.changePassword(current.value, next.value)
    if (error.value) return
    done.value = true
    current.value = next.value = ''
  })

const renew = (): Promise<void> =>
  during(async () => {
    const made = await account.newCode(confirmed.value)
    codeError.value = made.wrong
    code.value = made.code
    if (made.code) confirmed.value = ''
  })

const leave = (): Promise<void> =>
  during(async () => {
    leaveError.value = await account.leave(leaving.value)
    if (!leaveError.value) await router.push('/sign-in')
  })
</script>

<template>
  <div class="flex h-full flex-col">
    <header class="flex items-center gap-3 border-b border-hair bg-sheet px-5 py-2.5">
      <img src="/mark.svg" alt="" class="h-6 w-6" /><span class="text-base font-semibold">Ratiogon</span>
      <RouterLink to="/parts" class="button ml-auto">Parts</RouterLink>
    </header>
    <main class="flex-1 overflow-auto p-8">
      <div class="mx-auto max-w-3xl">
        <h1 class="text-2xl font-semibold">Account</h1>
        <p v-if="account.visitor" class="mt-1 max-w-xl text-muted">
          A visitor's copy of the demo, yours alone. It goes a day after it was made: take home what you want
          to keep, or make an account and open it there.
        </p>
        <p v-else class="mt-1 text-muted">{{ account.email }}</p>
        <div class="mt-8 grid grid-cols-2 gap-x-14 gap-y-10">
          <section class="flex flex-col gap-3" aria-labelledby="kept-head">
            <h2 id="kept-head" class="text-lg font-semibold">What is kept</h2>
            <dl v-if="kept" class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 tabular-nums" data-testid="kept">
              <dt class="text-muted">since</dt>
              <dd>{{ new Date(kept.since).toLocaleDateString() }}</dd>
              <dt class="text-muted">parts</dt>
              <dd>{{ kept.parts }}</dd>
              <dt class="text-muted">edits in their history</dt>
              <dd>{{ kept.edits }}</dd>
              <dt class="text-muted">room</dt>
              <dd>{{ inWords(kept.bytes) }}</dd>
            </dl>
            <p class="text-muted">
              The address, a hash of the password and of the recovery code, the parts with every edit, and
              pictures drawn of them. Nothing else, and nothing leaves this server.
            </p>
            <a class="button self-start py-1.5" href="/api/account/everything.zip" download
              >Take everything home</a
            >
            <p class="text-muted">
              A zip archive: each part as a file that opens here again, its picture, and its history.
            </p>
          </section>
          <form
            v-if="!account.visitor"
            class="flex flex-col gap-3"
            aria-label="Another password"
            @submit.prevent="change"
          >
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
            <button class="button-main self-start py-2" :disabled="busy">Change the password</button>
          </form>
          <form
            v-if="!account.visitor"
            class="flex flex-col gap-3"
            aria-label="Recovery code"
            @submit.prevent="renew"
          >
            <h2 class="text-lg font-semibold">Recovery code</h2>
            <CodeCard v-if="code" :code="code" />
            <template v-else>
              <p class="text-muted">
                It lets you in when the password is lost. A new one makes the one before good for nothing.
              </p>
              <label class="flex flex-col gap-1"
                >Password<input
                  v-model="confirmed"
                  type="password"
                  required
                  maxlength="128"
                  autocomplete="current-password"
                  class="field py-1.5"
                  name="confirm-code"
              /></label>
              <p v-if="codeError" role="alert" class="rounded bg-alert-soft p-2 text-alert">
                {{ codeError }}
              </p>
              <button class="button self-start py-1.5" :disabled="busy">Make a new code</button>
            </template>
          </form>
          <form class="flex flex-col gap-3" aria-label="Leave" @submit.prevent="leave">
            <h2 class="text-lg font-semibold">Leave</h2>
            <p class="text-muted">
              Deletes the account with all parts, their history and pictures, here and now. Nobody can bring
              it back.
            </p>
            <button v-if="!sure" type="button" class="button self-start py-1.5" @click="sure = true">
              Delete the account …
            </button>
            <template v-else>
              <label v-if="!account.visitor" class="flex flex-col gap-1"
                >Password<input
                  v-model="leaving"
                  type="password"
                  required
                  maxlength="128"
                  autocomplete="current-password"
                  class="field py-1.5"
                  name="confirm-leave"
              /></label>
              <p v-if="leaveError" role="alert" class="rounded bg-alert-soft p-2 text-alert">
                {{ leaveError }}
              </p>
              <span class="flex gap-2">
                <button type="button" class="button py-1.5" @click="sure = false">Stay</button>
                <button
                  class="button border-alert py-1.5 text-alert"
                  :disabled="busy"
                  data-testid="leave-for-good"
                >
                  Delete account and {{ kept?.parts ?? 0 }} parts
                </button>
              </span>
            </template>
          </form>
        </div>
      </div>
    </main>
  </div>
</template>
