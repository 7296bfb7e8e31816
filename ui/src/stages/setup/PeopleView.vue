<script setup lang="ts">
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'
import { api, unwrap, type Role } from '@/api/client'
import NoticeBar from '@/parts/NoticeBar.vue'
import { useKeys } from '@/parts/keys'
import { sent, show } from '@/parts/numbers'
import { current, may as allowed } from '@/parts/session'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import PersonPart from './PersonPart.vue'
import RoleTicks from './RoleTicks.vue'
import SetUpTabs from './SetUpTabs.vue'
import { givenPassword } from './password'
import { useJob } from '@/parts/job'

const { data: people } = useQuery({ queryKey: ['people'], queryFn: () => unwrap(api.GET('/api/people')) })
const blank = () => ({
  login: '',
  name: '',
  password: givenPassword(),
  mail: '',
  authority: '',
  comma: false,
  roles: [] as Role[],
})
const form = ref(blank())
const here = computed(() => (people.value ?? []).filter((p) => !p.left))
const left = computed(() => (people.value ?? []).filter((p) => p.left))
const route = useRoute()
const may = computed(() => allowed('addPerson'))

const { send, refusal } = useJob()
function add() {
  const { name, password } = form.value
  return send(
    () => unwrap(api.POST('/api/people', { body: { ...form.value, authority: sent(form.value.authority) || '0' } })),
    {
      after: () => (form.value = blank()),
      done: (a) =>
        `${name} can sign in as ${a.login}, once with ${password}, and then chooses an own password.` +
        (a.asked ? ' Roles and authority hold when another administrator has confirmed them.' : ''),
    },
  )
}
const state = (f: string) => (refusal.value?.at(f) ? false : undefined)
useKeys(() => (may.value ? [{ key: 'Ctrl+Enter', label: 'add the person', run: () => void add() }] : []))
</script>

<template>
  <main class="desk alone">
    <section class="sheet" aria-label="People">
      <NoticeBar />
      <header>
        <div class="headline">
          <h1>People</h1>
          <SetUpTabs />
        </div>
      </header>
      <div class="body">
        <table class="grid mb-4">
          <thead>
            <tr>
              <th class="named">Name</th>
              <th>Sign-in name</th>
              <th>Roles</th>
              <th class="num">Authority, {{ current?.currency }}</th>
              <th v-if="may">Account</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="p in here" :key="p.login" :class="{ on: route.query['person'] === p.login }">
              <td>
                <b>{{ p.name }}</b><br /><span class="muted">{{ p.about }}</span>
              </td>
              <td>
                <span class="mono">{{ p.login }}</span><template v-if="p.mail"
                  ><br /><span class="muted small">{{ p.mail }}</span></template
                >
              </td>
              <td>{{ p.roles.join(', ') }}</td>
              <td class="num">{{ Number(p.authority) ? show(p.authority) : '' }}</td>
              <td v-if="may"><PersonPart :person="p" /></td>
            </tr>
          </tbody>
        </table>
        <p v-if="left.length" class="muted">Left: {{ left.map((p) => `${p.name} (${p.login})`).join(', ') }}.</p>
        <form v-if="may" style="max-width: 640px" @submit.prevent="add">
          <h2 class="mb-2">Add a person</h2>
          <div class="d-flex flex-wrap gap-3 mb-2">
            <div
              v-for="f in [
                ['name', 'Name', 'text'],
                ['login', 'Sign-in name', 'text'],
                ['password', 'Password for once', 'text'],
                ['authority', 'Authority', 'text'],
                ['mail', 'Mail address', 'text'],
              ] as const"
              :key="f[0]"
            >
              <label :for="`person-${f[0]}`">{{ f[1] }}</label>
              <TextField
                :id="`person-${f[0]}`"
                v-model="form[f[0]]"
                :type="f[2]"
                autocomplete="off"
                :state="state(f[0])"
                :aria-describedby="`person-${f[0]}-error`"
              />
              <div :id="`person-${f[0]}-error`" class="small text-danger">{{ refusal?.at(f[0]) }}</div>
            </div>
          </div>
          <RoleTicks id="person-roles" v-model="form.roles" :error="refusal?.at('roles')" />
          <TickBox v-model="form.comma" class="mb-2">Writes numbers as 1.250,5</TickBox>
          <div v-if="refusal && !refusal.problem.field" class="text-danger" role="alert">{{ refusal.message }}</div>
          <BButton type="submit" variant="primary">Add</BButton>
        </form>
        <p v-else class="muted">Adding people takes the role administrator.</p>
      </div>
    </section>
  </main>
</template>
