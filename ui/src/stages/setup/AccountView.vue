<script setup lang="ts">
// One's own account: password, sessions, and who acts in one's place.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import PickField from '@/parts/PickField.vue'
import { nextField } from '@/parts/fields'
import { tell } from '@/parts/notice'
import { showDay } from '@/parts/numbers'
import { current, load, person, today } from '@/parts/session'
import { useJob } from '@/parts/job'
import PasswordForm from './PasswordForm.vue'
import SetUpTabs from './SetUpTabs.vue'

const client = useQueryClient()
const { data: account } = useQuery({ queryKey: ['account'], queryFn: () => unwrap(api.GET('/api/account')) })
const { data: people } = useQuery({ queryKey: ['people'], queryFn: () => unwrap(api.GET('/api/people')) })
const others = computed(() => [
  { value: '', text: 'choose' },
  ...(people.value ?? [])
    .filter((p) => !p.left && p.login !== person.value?.login)
    .map((p) => ({ value: p.login, text: p.name })),
])
const blank = () => ({ login: '', from: today.value, until: '' })
const form = ref(blank())
const { at, busy, send } = useJob({ within: '#substitute' })

async function name() {
  const done = await send(() => unwrap(api.POST('/api/account/substitute', { body: form.value })))
  if (!done) return
  tell(`${others.value.find((o) => o.value === done.login)?.text} acts in your place on those days.`)
  form.value = blank()
  await client.invalidateQueries({ queryKey: ['account'] })
}
const takeBack = (no: number) =>
  send(() => unwrap(api.POST('/api/account/substitute/end', { body: { no } })), {
    done: 'Nobody acts in your place any more on those days.',
  })
const everywhere = () =>
  send(async () => {
    await unwrap(api.POST('/api/account/sign-out-everywhere'))
    client.clear()
    await load()
  })
</script>

<template>
  <main class="desk alone">
    <section class="sheet" aria-label="Your account">
      <NoticeBar />
      <header>
        <div class="headline">
          <h1>{{ person?.name }}</h1>
          <SetUpTabs />
        </div>
        <dl class="facts">
          <div>
            <dt>Sign-in name</dt>
            <dd class="mono">{{ person?.login }}</dd>
          </div>
          <div>
            <dt>Roles</dt>
            <dd>{{ person?.roles.join(', ') }}</dd>
          </div>
          <div v-if="account?.inPlaceOf.length">
            <dt>Acting today for</dt>
            <dd>{{ account.inPlaceOf.join(', ') }}</dd>
          </div>
        </dl>
      </header>
      <div class="body">
        <h2>Password</h2>
        <PasswordForm class="mb-4" />
        <h2>While you are away</h2>
        <p class="muted mb-2">
          Whoever you name does what your roles allow on those days, with your authority, and stands in the record as
          themselves. What you entered counts as their own.
        </p>
        <ul v-if="account?.substitutes.length" class="plain mb-2">
          <li v-for="s in account.substitutes" :key="s.no">
            <b>{{ s.name }}</b>, {{ showDay(s.from, today) }} to {{ showDay(s.until, today) }}.
            <button
              type="button"
              class="linkish"
              :aria-label="`Take back ${s.name}`"
              :disabled="busy"
              @click="takeBack(s.no)"
            >
              Take back
            </button>
          </li>
        </ul>
        <form id="substitute" class="mb-4" @submit.prevent="name" @keydown.enter="nextField">
          <div class="entry">
            <div>
              <label for="substitute-login">Who acts in your place</label>
              <PickField id="substitute-login" v-model="form.login" :options="others" />
              <div class="small text-danger">{{ at('login') }}</div>
            </div>
            <EntryField id="substitute-from" v-model="form.from" type="date" label="From" :error="at('from')" />
            <EntryField id="substitute-until" v-model="form.until" type="date" label="To" :error="at('until')" />
          </div>
          <BButton type="submit" variant="outline-secondary" :disabled="busy">Name them</BButton>
        </form>
        <h2>Sessions</h2>
        <p class="muted mb-2">
          Ends every session in every browser, this one too. {{ current?.company }} asks for your password again.
        </p>
        <BButton variant="outline-secondary" :disabled="busy" @click="everywhere">Sign out everywhere</BButton>
      </div>
    </section>
  </main>
</template>
