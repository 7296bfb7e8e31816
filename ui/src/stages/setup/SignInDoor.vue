<script setup lang="ts">
import { nextTick, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, Refusal, unwrap, type Person } from '@/api/client'
import { current, person, signOut, take } from '@/parts/session'
import TextField from '@/parts/TextField.vue'
import PasswordForm from './PasswordForm.vue'

const router = useRouter()
const login = ref('')
const password = ref('')
const first = ref({
  code: '',
  company: '',
  currency: 'EUR',
  country: '',
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  iban: '',
  bic: '',
  login: '',
  name: '',
  password: '',
})
const refusal = ref<Refusal>()
const busy = ref(false)

async function go(call: () => Promise<void>) {
  busy.value = true
  refusal.value = undefined
  try {
    await call()
  } catch (e) {
    refusal.value = e as Refusal
    await nextTick()
    document.querySelector<HTMLElement>('.is-invalid')?.focus()
  } finally {
    busy.value = false
  }
}
const signIn = () =>
  go(async () => {
    take(await unwrap(api.POST('/api/session/sign-in', { body: { login: login.value, password: password.value } })))
    if (router.currentRoute.value.path === '/') await router.push('/invoices')
  })
const found = () =>
  go(async () => take(await unwrap(api.POST('/api/session/first-administrator', { body: first.value }))))
async function choose(p: Person) {
  login.value = p.login
  password.value = current.value?.password ?? ''
  await signIn()
}
const fields: { key: keyof typeof first.value; label: string; hint?: string; type?: 'password' }[] = [
  { key: 'code', label: 'Code', hint: 'printed where Lagoon was started' },
  { key: 'company', label: 'Name of the company' },
  { key: 'currency', label: 'Currency', hint: 'ISO 4217, such as EUR' },
  { key: 'country', label: 'Country', hint: 'two letters, such as IE' },
  { key: 'zone', label: 'Time zone', hint: 'such as Europe/Dublin' },
  { key: 'iban', label: 'Bank account that payments leave (IBAN)', hint: 'may be left empty for now' },
  { key: 'bic', label: 'BIC of its bank' },
  { key: 'name', label: 'Your name' },
  { key: 'login', label: 'Sign-in name' },
  {
    key: 'password',
    label: 'Password',
    hint: 'at least twelve characters; three or four words are easy to keep',
    type: 'password',
  },
]
</script>

<template>
  <main class="door">
    <section>
      <p class="d-flex align-items-center gap-2 fs-4 fw-bold mb-1">
        <img src="/lagoon.svg" width="34" height="24" alt="" />Lagoon
      </p>
      <template v-if="person">
        <h1 class="mb-1">Choose your own password</h1>
        <p class="muted">Good to have you, {{ person.name }}. The password you signed in with was given for once.</p>
        <PasswordForm first />
        <button type="button" class="linkish mt-3" @click="signOut">Sign out</button>
      </template>
      <template v-else-if="current?.configured">
        <h1 class="mb-3">{{ current.company }}</h1>
        <form @submit.prevent="signIn">
          <label for="login">Sign-in name</label>
          <TextField id="login" v-model="login" class="mb-2" autocomplete="username" autofocus />
          <label for="password">Password</label>
          <TextField
            id="password"
            v-model="password"
            type="password"
            autocomplete="current-password"
            :state="refusal ? false : undefined"
            aria-describedby="sign-in-error"
          />
          <div id="sign-in-error" class="small text-danger" role="alert">{{ refusal?.message }}</div>
          <BButton type="submit" variant="primary" class="mt-3" :disabled="busy">Sign in</BButton>
        </form>
      </template>
      <template v-else>
        <h1 class="mb-1">Set up Lagoon</h1>
        <p class="muted">Nobody is known here yet. Say whose books these are, and become the first administrator.</p>
        <form @submit.prevent="found">
          <div v-for="f in fields" :key="f.key" class="mb-2">
            <label :for="`first-${f.key}`"
              >{{ f.label }} <span v-if="f.hint" class="muted">({{ f.hint }})</span></label
            >
            <TextField
              :id="`first-${f.key}`"
              v-model="first[f.key]"
              :type="f.type ?? 'text'"
              autocomplete="off"
              :state="refusal?.at(f.key) ? false : undefined"
              :aria-describedby="`first-${f.key}-error`"
            />
            <div :id="`first-${f.key}-error`" class="small text-danger">{{ refusal?.at(f.key) }}</div>
          </div>
          <div class="text-danger" role="alert">{{ refusal && !refusal.problem.field ? refusal.message : '' }}</div>
          <BButton type="submit" variant="primary" class="mt-2" :disabled="busy">Set up</BButton>
        </form>
      </template>
    </section>
    <section v-if="current?.people" aria-label="People of the demo">
      <h2>Who would you like to be?</h2>
      <p class="muted mb-0">
        These people are invented. Choosing one signs in with the password
        <span class="mono">{{ current.password }}</span>.
      </p>
      <ul class="who-list">
        <li v-for="p in current.people" :key="p.login">
          <button type="button" :disabled="busy" @click="choose(p)">
            <b>{{ p.name }}</b> <span class="mono muted">{{ p.login }}</span><br /><span class="muted"
              >{{ p.roles.join(', ') }}: {{ p.about }}</span
            >
          </button>
        </li>
      </ul>
    </section>
  </main>
</template>
