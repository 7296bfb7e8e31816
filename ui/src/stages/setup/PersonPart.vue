<script setup lang="ts">
// What an administrator does with one account: roles and authority, a password for once, its end, and the word on
// what another administrator asked for.
import { computed, ref } from 'vue'
import { api, unwrap, type Person, type Role } from '@/api/client'
import AskReason from '@/parts/AskReason.vue'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { sent, show } from '@/parts/numbers'
import { current } from '@/parts/session'
import { givenPassword } from './password'
import RoleTicks from './RoleTicks.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'

const props = defineProps<{ person: Person }>()
const doing = ref<'rights' | 'password' | 'mail' | 'end'>()
const mail = ref('')
const path = computed(() => ({ params: { path: { login: props.person.login } } }))
const rights = ref<{ roles: Role[]; authority: string; reason: string }>()
const { again, done: rightsKept } = useKept(rights, () => `rights.${props.person.login}`)
const password = ref('')

function begin(what: 'rights' | 'password' | 'mail' | 'end') {
  forget()
  rights.value =
    what === 'rights'
      ? {
          roles: [...props.person.roles],
          authority: Number(props.person.authority) ? show(props.person.authority) : '',
          reason: '',
        }
      : undefined
  password.value = givenPassword()
  mail.value = props.person.mail ?? ''
  doing.value = what
}
const { send, refusal: trouble, forget, busy } = useJob({ within: '.ask' })
const act = (work: () => Promise<{ asked?: boolean }>, done: (answer: { asked?: boolean }) => string) =>
  send(work, {
    after: () => {
      rightsKept()
      doing.value = undefined
    },
    done,
  })
const name = computed(() => props.person.name)
const change = (now: NonNullable<typeof rights.value>) =>
  act(
    () =>
      unwrap(
        api.POST('/api/people/{login}/rights', {
          ...path.value,
          body: { ...now, authority: sent(now.authority) || '0' },
        }),
      ),
    (a) =>
      a.asked
        ? `What ${name.value} may do changes when another administrator has confirmed it.`
        : `What ${name.value} may do is changed.`,
  )
const reset = () =>
  act(
    () => unwrap(api.POST('/api/people/{login}/password', { ...path.value, body: { password: password.value } })),
    () => `${name.value} signs in once with ${password.value} and then chooses an own password.`,
  )
const write = () =>
  act(
    () => unwrap(api.POST('/api/people/{login}/mail', { ...path.value, body: { mail: mail.value } })),
    () => (mail.value ? `${name.value} is written to at ${mail.value}.` : `${name.value} is written to nowhere.`),
  )
const end = (reason: string) =>
  act(
    () => unwrap(api.POST('/api/people/{login}/end', { ...path.value, body: { reason } })),
    () => `${name.value} can sign in no more.`,
  )
const confirm = (refuse: boolean) =>
  act(
    () =>
      unwrap(
        api.POST('/api/people/{login}/confirm', {
          ...path.value,
          body: { roles: props.person.asked?.roles ?? [], authority: props.person.asked?.authority ?? '0', refuse },
        }),
      ),
    () => (refuse ? `What was asked for ${name.value} is dropped.` : `What ${name.value} may do is confirmed.`),
  )
</script>

<template>
  <div>
    <p v-if="person.asked" class="outside-text mb-1">
      Waits for another administrator: {{ person.asked.roles.join(', ')
      }}{{ Number(person.asked.authority) ? `, up to ${show(person.asked.authority)} ${current?.currency}` : '' }}.
      <button type="button" class="linkish" :disabled="busy" @click="confirm(false)">Confirm</button>
      <button type="button" class="linkish ms-2" :disabled="busy" @click="confirm(true)">Drop it</button>
    </p>
    <div v-if="!doing" class="d-flex flex-wrap gap-3">
      <button type="button" class="linkish" :aria-label="`Roles… of ${name}`" @click="begin('rights')">Roles…</button>
      <button type="button" class="linkish" :aria-label="`Mail… of ${name}`" @click="begin('mail')">Mail…</button>
      <template v-if="!person.roles.includes('administrator')">
        <button type="button" class="linkish" :aria-label="`New password… for ${name}`" @click="begin('password')">
          New password…
        </button>
        <button type="button" class="linkish" :aria-label="`End… the account of ${name}`" @click="begin('end')">
          End…
        </button>
      </template>
      <span v-else class="small muted">password and end: on the command line</span>
    </div>
    <SmallForm
      v-else-if="doing === 'rights' && rights"
      action="Change"
      :again="again"
      @done="change(rights)"
      @cancel="doing = undefined"
    >
      <RoleTicks :id="`rights-${person.login}`" v-model="rights.roles" :error="trouble?.at('roles')" />
      <div class="entry">
        <EntryField
          :id="`rights-${person.login}-authority`"
          v-model="rights.authority"
          :label="`Authority, ${current?.currency}`"
          inputmode="decimal"
          :error="trouble?.at('authority')"
        />
        <EntryField
          :id="`rights-${person.login}-reason`"
          v-model="rights.reason"
          label="Why"
          hint="the record keeps it"
          :error="trouble?.at('reason') ?? (trouble?.problem.field ? undefined : trouble?.message)"
        />
      </div>
    </SmallForm>
    <SmallForm v-else-if="doing === 'mail'" action="Keep it" @done="write" @cancel="doing = undefined">
      <EntryField
        :id="`mail-${person.login}`"
        v-model="mail"
        label="Mail address"
        hint="lists with what is theirs go there; empty: nowhere"
        :error="trouble?.message"
      />
    </SmallForm>
    <SmallForm v-else-if="doing === 'password'" action="Give it" @done="reset" @cancel="doing = undefined">
      <EntryField
        :id="`password-${person.login}`"
        v-model="password"
        class="mono"
        label="A password for once"
        hint="note it or read it out; their sessions end, and at the next sign-in they choose their own"
        :error="trouble?.message"
      />
    </SmallForm>
    <AskReason
      v-else
      :id="`end-${person.login}`"
      :title="`End the account of ${name}.`"
      books="Their sessions end at once. What they did stays, and what was their turn goes to the role."
      label="Why"
      action="End it"
      :error="trouble?.message ?? ''"
      @done="end"
      @cancel="doing = undefined"
    />
  </div>
</template>
