import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, reason } from '../api/client'

export const useAccount = defineStore('account', () => {
  const email = ref<string | null>(null)
  const demo = ref(false)
  let loaded = false

  async function load(): Promise<void> {
    if (loaded) return
    const { data } = await api.GET('/api/account')
    if (!data) return
    loaded = true
    email.value = data.email ?? null
    demo.value = data.demo
  }

  /** Signs up or in; answers what is wrong, or null. */
  async function enter(
    how: 'sign-up' | 'sign-in',
    address: string,
    password: string,
    stay: boolean,
  ): Promise<string | null> {
    const body = { email: address, password, stay }
    const { data, error } =
      how === 'sign-up'
        ? await api.POST('/api/account/sign-up', { body })
        : await api.POST('/api/account/sign-in', { body })
    if (data) email.value = data.email ?? null
    return data ? null : reason(error)
  }

  async function enterDemo(): Promise<string | null> {
    const { data, error } = await api.POST('/api/account/demo')
    if (data) email.value = data.email ?? null
    return data ? null : reason(error)
  }

  /** Takes another password; every other browser is signed out. Answers what is wrong, or null. */
  async function changePassword(current: string, next: string): Promise<string | null> {
    const { error, response } = await api.POST('/api/account/password', { body: { current, next } })
    return response.ok ? null : reason(error)
  }

  async function signOut(): Promise<void> {
    await api.POST('/api/account/sign-out', { keepalive: true })
    email.value = null
  }

  return { email, demo, load, enter, enterDemo, changePassword, signOut }
})
