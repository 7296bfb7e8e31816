import { computed, ref } from 'vue'
import { api, onSignedOut, unwrap, type Role, type Session } from '@/api/client'
import { habit } from './numbers'

const session = ref<Session>()

export const current = computed(() => session.value)
export const person = computed(() => session.value?.person)
export const today = computed(() => session.value?.today ?? '')

/** Whether the person has one of the roles; the server decides again. */
export function has(...roles: Role[]): boolean {
  return roles.some((r) => person.value?.roles.includes(r))
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
