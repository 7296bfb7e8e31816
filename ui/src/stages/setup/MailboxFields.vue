<script setup lang="ts">
// Where a mailbox is, whose it is, and from when on it is read.
import DayField from '@/parts/DayField.vue'
import EntryField from '@/parts/EntryField.vue'
import PickField from '@/parts/PickField.vue'
import TickBox from '@/parts/TickBox.vue'
import type { TypedWay } from './ways'

defineProps<{ at: (field: string) => string | undefined; kept: boolean }>()
const way = defineModel<TypedWay>({ required: true })
const securities = [
  { value: 'tls', text: 'TLS' },
  { value: 'starttls', text: 'STARTTLS' },
  { value: 'none', text: 'neither, on this machine alone' },
]
</script>

<template>
  <div class="entry">
    <EntryField
      id="way-address"
      v-model="way.address"
      class="mono"
      label="Server and port"
      hint="as mail.example:993"
      :error="at('address')"
    />
    <div>
      <label for="way-security">Reached by</label>
      <PickField id="way-security" v-model="way.security" :options="securities" />
      <div v-if="at('security')" class="small text-danger">{{ at('security') }}</div>
    </div>
    <EntryField id="way-login" v-model="way.login" class="mono" label="Whose mailbox" :error="at('login')" />
    <EntryField
      id="way-secret"
      v-model="way.secret"
      type="password"
      :label="way.token ? 'Access token' : 'Password'"
      :hint="kept ? 'empty: the one that is kept' : 'it is kept beside the books and never shown'"
      :error="at('secret')"
    />
    <EntryField
      id="way-box"
      v-model="way.box"
      class="mono"
      label="Folder in it"
      hint="empty: INBOX"
      :error="at('box')"
    />
    <div>
      <label for="way-since">First day that is read</label>
      <DayField
        id="way-since"
        v-model="way.since"
        :state="at('since') ? false : undefined"
        aria-describedby="way-since-said"
      />
      <div id="way-since-said" class="small" :class="at('since') ? 'text-danger' : 'muted'">
        {{ at('since') ?? 'empty: all' }}
      </div>
    </div>
    <EntryField
      id="way-every"
      v-model="way.every"
      label="Looked into every … seconds"
      inputmode="numeric"
      hint="10 to 3600"
      :error="at('every')"
    />
  </div>
  <TickBox v-model="way.token">It is an access token (XOAUTH2), not a password</TickBox>
  <TickBox v-model="way.readOnly">Nothing in the mailbox is marked as read</TickBox>
</template>
