<script setup lang="ts">
// Invoices before one is chosen: where files go, what became of them, and where one is keyed.
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import NoticeBar from '@/parts/NoticeBar.vue'
import { api, unwrap } from '@/api/client'
import TextField from '@/parts/TextField.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useJob } from '@/parts/job'
import { may } from '@/parts/session'
import { progress, results } from './taken'
import { matchAll } from './turns'
import { placeOf } from '@/parts/places'

const router = useRouter()
const outcomes: Record<string, 'agrees' | 'waiting' | 'outside'> = {
  verified: 'agrees',
  waiting: 'waiting',
  mail: 'waiting',
  paper: 'waiting',
}
const wanted = ref('')
const { send, busy } = useJob()
const missing = ref('')
async function key() {
  missing.value = ''
  const typed = wanted.value.trim()
  if (!typed) missing.value = 'Enter the number of the order, or what else you have in the hand.'
  else
    try {
      const start = await unwrap(api.GET('/api/invoice-start', { params: { query: { typed } } }))
      await router.push(placeOf.keyingOf(start))
    } catch (e) {
      missing.value = (e as Error).message
    }
}
</script>

<template>
  <section class="sheet" aria-label="Invoices">
    <NoticeBar />
    <div v-if="progress" class="nothing" role="status">
      <h1>Taking in {{ progress.all }} files</h1>
      <BProgress :value="progress.done" :max="progress.all" :aria-label="`${progress.done} of ${progress.all} files`" />
      <p class="mt-2">{{ progress.done }} done. You can go on with something else.</p>
    </div>
    <div v-else-if="results.length" class="body">
      <h2 class="mb-2">What became of the files</h2>
      <table class="grid">
        <thead>
          <tr>
            <th>File</th>
            <th>Outcome</th>
            <th>Why</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in results" :key="r.file">
            <td class="mono">{{ r.file }}</td>
            <td>
              <VerdictMark
                :verdict="outcomes[r.outcome] ?? 'outside'"
                :text="r.outcome === 'duplicate' ? 'here already' : r.outcome"
              />
            </td>
            <td>
              {{ r.sentence }}
              <template v-for="p in r.problems.slice(1)" :key="p.sentence"><br />{{ p.sentence }}</template>
            </td>
            <td>
              <RouterLink v-if="r.invoice" :to="placeOf.invoice(r.invoice)" class="nowrap"
                >Open {{ r.invoice }}</RouterLink
              >
              <RouterLink v-if="r.mail" :to="placeOf.mail(r.mail)" class="nowrap">Mail {{ r.mail }}</RouterLink>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <div v-else class="nothing">
      <h1>Invoices</h1>
      <p v-if="may('importInvoices')">
        Drop e-invoices anywhere on this page. Those that agree are verified at once; the others lie on the left and say
        what they need.
      </p>
      <p v-else>Choose an invoice on the left, or find one by number or name with <kbd>/</kbd>.</p>
      <form v-if="may('keyInvoice')" class="d-inline-block text-start" @submit.prevent="key">
        <label for="key-order">Or key one: order, delivery note, item or supplier</label>
        <div class="d-flex gap-2">
          <TextField
            id="key-order"
            v-model="wanted"
            class="mono"
            autocomplete="off"
            data-pile-keys
            :state="missing ? false : undefined"
            aria-describedby="key-order-error"
          />
          <BButton type="submit" variant="outline-secondary" class="nowrap">Key it</BButton>
        </div>
        <div id="key-order-error" class="small text-danger">{{ missing }}</div>
      </form>
      <p v-if="may('selfBill')" class="mt-3 mb-1">
        <RouterLink to="/invoices/self-billing" class="d-inline-block py-1"
          >Invoices that we write ourselves</RouterLink
        >
      </p>
      <p v-if="may('matchAgain')">
        <button type="button" class="linkish" :disabled="busy" @click="matchAll(send)">
          Match all that is open again, now
        </button>
        <kbd class="ms-1">M</kbd>
      </p>
    </div>
  </section>
  <aside class="side" aria-label="Evidence"></aside>
</template>
