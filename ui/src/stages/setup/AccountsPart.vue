<script setup lang="ts">
// The chart: what the company numbers and names each account of the books; a budget or kind of charge without a number of
// its own is booked under that of its role.
import { computed, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { tell } from '@/parts/notice'
import { may } from '@/parts/session'

const props = defineProps<{ frame: Frame }>()
type Account = Frame['accounts'][number]
const client = useQueryClient()
const { at, send } = useJob({ within: '.ask' })
const form = ref<Account>()
const name = (a: Account) => `${a.account ?? a.role} ${a.detail}`.trim()
const { again, done: kept } = useKept(form, (a) => `account.${a.role}.${a.detail}`)
const without = computed(() => props.frame.accounts.filter((a) => !a.detail && !a.number).length)
async function keep(account: Account) {
  const { role, detail, number } = account
  if (!(await send(() => unwrap(api.POST('/api/accounts', { body: { role, detail, number, name: account.name } })))))
    return
  kept()
  tell(number ? `${name(account)} is account ${number}.` : `${name(account)} has no number of its own.`)
  await client.invalidateQueries()
}
</script>

<template>
  <div>
    <h2>Accounts</h2>
    <p v-if="without" class="muted">
      {{ without === 1 ? 'One role has' : `${without} roles have` }} no account number yet; the journal says so.
    </p>
    <table class="grid mb-3" style="max-width: 760px">
      <thead>
        <tr>
          <th>What is booked there</th>
          <th>Account</th>
          <th>Name</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="a in frame.accounts" :key="name(a)">
          <tr>
            <td :class="{ 'ps-4': a.detail }">
              <template v-if="a.detail"
                ><span class="mono">{{ a.detail }}</span></template
              ><b v-else>{{ a.account }}</b>
            </td>
            <td class="mono">{{ a.number }}<span v-if="!a.number && a.detail" class="muted">as its role</span></td>
            <td>{{ a.name }}</td>
            <td>
              <button
                v-if="may('saveAccount')"
                type="button"
                class="linkish"
                :aria-label="`Change account ${name(a)}`"
                @click="form = { ...a }"
              >
                Change
              </button>
            </td>
          </tr>
          <tr v-if="form && form.role === a.role && form.detail === a.detail">
            <td colspan="4">
              <SmallForm :again="again" action="Keep the account" @done="keep(form)" @cancel="form = undefined">
                <div class="entry">
                  <EntryField
                    id="account-number"
                    v-model="form.number"
                    class="mono"
                    label="Account number"
                    :error="at('number')"
                  />
                  <EntryField
                    id="account-name"
                    v-model="form.name"
                    label="Name, where it has one"
                    :error="at('name')"
                  />
                </div>
              </SmallForm>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>
