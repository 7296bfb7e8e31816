<script setup lang="ts">
// How mails and files come in by themselves: a mailbox that is read, mails that are handed in, a folder that is watched.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type WayIn } from '@/api/client'
import NoticeBar from '@/parts/NoticeBar.vue'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { showDay, showInstant } from '@/parts/numbers'
import { may, today } from '@/parts/session'
import MailboxFields from './MailboxFields.vue'
import SetUpTabs from './SetUpTabs.vue'
import { typedWay, wayBody, type TypedWay } from './ways'

const { data, error } = useQuery({
  queryKey: ['ways-in'],
  queryFn: () => unwrap(api.GET('/api/ways-in')),
  refetchInterval: 5000,
  enabled: may('getWaysIn'),
})
const names: Record<string, string> = {
  imap: 'A mailbox that is read',
  smtp: 'Mails that are handed in',
  folder: 'A folder that is watched',
}
const tells: Record<string, string> = {
  imap: 'Lagoon signs in to a mailbox by IMAP and takes in what arrives. Nothing in it is moved or removed.',
  smtp: 'Lagoon answers by SMTP on this machine alone: let your mail server forward to it.',
  folder:
    'Mails saved as .eml, e-invoices, PDFs, pictures, and ZIP archives of them that are put there are taken in once they stop growing.',
}
const form = ref<TypedWay>()
const tried = ref('')
const { send, busy, at, forget } = useJob({ within: '.ask', says: ['way'] })
function open(w: WayIn) {
  forget()
  tried.value = ''
  form.value = typedWay(w)
}
const keep = () =>
  send(() => unwrap(api.POST('/api/ways-in', { body: wayBody(form.value!) })), {
    done: 'The way in is changed.',
    after: () => (form.value = undefined),
  })
async function attempt() {
  tried.value = ''
  const said = await send(() => unwrap(api.POST('/api/ways-in/mailbox-try', { body: wayBody(form.value!) })))
  if (said)
    tried.value = `It answers. It holds ${said.all} ${said.all === 1 ? 'mail' : 'mails'}, of which ${said.wanted} would be read.`
}
const kept = computed(() => {
  const stands = data.value?.ways.find((w) => w.way === 'imap')
  return (
    !!stands?.secretKept && stands.address === form.value?.address.trim() && stands.login === form.value?.login.trim()
  )
})
function does(w: WayIn): string {
  if (!w.live) return 'Off'
  if (w.trouble) return w.trouble
  if (!w.looked) return 'Being started'
  return w.way === 'smtp' ? 'Answers' : `Looked into ${showInstant(w.looked, today.value)}`
}
</script>

<template>
  <main class="desk alone">
    <section class="sheet" aria-label="Mail and files">
      <NoticeBar />
      <header>
        <div class="headline">
          <h1>Mail and files</h1>
          <SetUpTabs />
        </div>
      </header>
      <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
      <div v-else-if="!may('getWaysIn')" class="nothing">
        How mails and files come in by themselves is set up by an administrator.
      </div>
      <div v-else-if="data" class="body" tabindex="0">
        <section v-for="w in data.ways" :key="w.way" class="mb-3" :aria-label="names[w.way]">
          <h2>
            {{ names[w.way] }}
            <button
              v-if="may('saveWayIn') && !w.named && form?.way !== w.way"
              type="button"
              class="linkish"
              :aria-label="`Change: ${names[w.way]}`"
              @click="open(w)"
            >
              Change
            </button>
          </h2>
          <p class="muted small mb-1">
            {{ tells[w.way] }}
            <template v-if="w.way === 'folder'">
              What was taken in is moved to <span class="mono">taken</span> in it, what is refused to
              <span class="mono">refused</span>.</template
            >
          </p>
          <p class="mb-1">
            <span :class="w.live && w.trouble ? 'outside-text' : 'fw-semibold'">{{ does(w) }}</span>
            <template v-if="w.live && w.way === 'imap'">
              · {{ w.login }} at <span class="mono">{{ w.address }}</span> · folder {{ w.box }} · every {{ w.every }} s
              <template v-if="w.since"> · from {{ showDay(w.since, today) }} on</template>
              <template v-if="w.readOnly"> · nothing is marked as read</template>
            </template>
            <template v-else-if="w.live && w.way === 'smtp'">
              · <span class="mono">{{ w.address }}</span></template
            >
            <template v-else-if="w.live">
              · <span class="mono">{{ w.address || data.inbox }}</span></template
            >
          </p>
          <p v-if="w.named" class="muted small mb-0">Named when Lagoon was started: it is changed there.</p>
          <SmallForm
            v-if="form?.way === w.way"
            action="Keep it"
            :label="names[w.way]"
            :disabled="busy"
            @done="keep"
            @cancel="form = undefined"
          >
            <TickBox v-model="form.live">{{
              w.way === 'imap'
                ? 'The mailbox is read'
                : w.way === 'smtp'
                  ? 'Mails are received'
                  : 'The folder is watched'
            }}</TickBox>
            <MailboxFields v-if="w.way === 'imap'" v-model="form" :at="at" :kept="kept" />
            <div v-else-if="w.way === 'smtp'" class="entry">
              <EntryField
                id="way-address"
                v-model="form.address"
                class="mono"
                label="Address of this machine, and port"
                hint="as 127.0.0.1:2525"
                :error="at('address')"
              />
            </div>
            <p v-else class="mono small mb-2">{{ data.inbox }}</p>
            <p v-if="w.way === 'imap'" class="mb-2">
              <BButton type="button" variant="outline-secondary" size="sm" :disabled="busy" @click="attempt"
                >Try it</BButton
              >
              <span class="ms-2" role="status">{{ tried || 'Trying takes nothing in and marks nothing.' }}</span>
            </p>
          </SmallForm>
        </section>
      </div>
    </section>
  </main>
</template>
