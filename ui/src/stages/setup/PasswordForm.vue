<script setup lang="ts">
// Changes one's own password; every other session of one's own ends.
import { ref } from 'vue'
import { api, unwrap } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import { nextField } from '@/parts/fields'
import { tell } from '@/parts/notice'
import { take } from '@/parts/session'
import { useJob } from '@/parts/job'

const { first } = defineProps<{
  /** The password was given for once: an own one is chosen now. */
  first?: boolean
}>()
const old = ref('')
const fresh = ref('')
const { at, busy, send } = useJob({ within: '#own-password', says: ['password', 'old', ''] })
async function change() {
  const session = await send(() =>
    unwrap(api.POST('/api/account/password', { body: { old: old.value, password: fresh.value } })),
  )
  if (!session) return
  old.value = fresh.value = ''
  take(session)
  if (!first) tell('Your password is changed; your other sessions are over.')
}
</script>

<template>
  <form id="own-password" @submit.prevent="change" @keydown.enter="nextField">
    <div class="entry">
      <EntryField
        id="password-old"
        v-model="old"
        type="password"
        autocomplete="current-password"
        :label="first ? 'The password you were given' : 'Your password now'"
        :error="at('old')"
      />
      <EntryField
        id="password-new"
        v-model="fresh"
        type="password"
        autocomplete="new-password"
        label="Your new password"
        hint="at least twelve characters; three or four words are easy to keep"
        :error="at('password')"
      />
    </div>
    <BButton type="submit" :variant="first ? 'primary' : 'outline-secondary'" :disabled="busy"
      >Change the password</BButton
    >
  </form>
</template>
