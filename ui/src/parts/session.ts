import { computed, ref } from 'vue'
import { api, onSignedOut, unwrap, type Session } from '@/api/client'
import type { operations } from '@/api/schema'
import { habit } from './numbers'

const session = ref<Session>()

export const current = computed(() => session.value)
export const person = computed(() => session.value?.person)
export const today = computed(() => session.value?.today ?? '')

/** Whether the person may give a command or see something, by its operation: the server says so, and decides again. */
export function may(job: keyof operations): boolean {
  return session.value?.may.includes(job) ?? false
}

export function take(s: Session): void {
  session.value = s
  habit.comma = s.person?.comma ?? false
}

export async function load(): Promise<void> {
  take(await unwrap(api.GET('/api/session')))
}

export async function signOut(): Promise<void> {
  await unwrap(api.POST('/api/session/sign-out'))
  await load()
}

onSignedOut.call = () => void load()
