<script setup lang="ts">
import { defineAsyncComponent, computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { courseQuery } from './api/queries'
import { hush, listen, lostSince } from './api/live'
import { giveUp, slow } from './api/wire'
import FindBox from './parts/FindBox.vue'
import { actions, click, plainLetters, press, useKeys } from './parts/keys'
import { acted, left, tell } from './parts/notice'
import { showDay } from './parts/numbers'
import { current, load, person, signOut, today } from './parts/session'
import SignInDoor from './stages/setup/SignInDoor.vue'
import TickBox from '@/parts/TickBox.vue'

/** Its texts are long, and few read them every day. */
const HelpPanel = defineAsyncComponent(() => import('./help/HelpPanel.vue'))

const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const finding = ref(false)
const helping = ref(false)
const reading = ref(localStorage.getItem('lagoon.help') === 'open') // the help beside the work
watch(reading, (on) => localStorage.setItem('lagoon.help', on ? 'open' : 'closed'))
const trouble = ref('')

onMounted(async () => {
  window.addEventListener('keydown', acted, { capture: true })
  window.addEventListener('click', acted, { capture: true })
  window.addEventListener('click', click, { capture: true })
  window.addEventListener('dragover', stray)
  window.addEventListener('drop', stray)
  window.addEventListener('keydown', press)
  await load().catch((e: Error) => (trouble.value = e.message))
})
/** A file that is dropped where nothing takes it would be opened in the place of the work: it says where it belongs. */
function stray(event: DragEvent) {
  if (event.defaultPrevented || !event.dataTransfer?.types.includes('Files')) return
  event.preventDefault()
  if (event.type === 'drop')
    tell('Nothing takes files here. E-invoices are dropped on Invoices, photographs on a delivery, tables on Set up.', [
      { to: '/invoices', text: 'Invoices' },
      { to: '/setup/tables', text: 'Tables' },
    ])
}
onBeforeUnmount(() => {
  window.removeEventListener('dragover', stray)
  window.removeEventListener('drop', stray)
  window.removeEventListener('keydown', acted, { capture: true })
  window.removeEventListener('click', acted, { capture: true })
  window.removeEventListener('click', click, { capture: true })
  window.removeEventListener('keydown', press)
})

const { data: course } = useQuery({
  ...courseQuery,
  enabled: computed(() => !!person.value && !person.value.oneTime),
})
const stages = computed(() => [
  {
    key: 'orders',
    name: 'Orders',
    to: '/orders',
    count: course.value?.orders,
    what: 'orders of yours to press: their goods are overdue',
  },
  {
    key: 'receiving',
    name: 'Receiving',
    to: '/receiving',
    count: course.value?.receiving,
    what: 'deliveries that you expect by today',
  },
  {
    key: 'invoices',
    name: 'Invoices',
    to: '/invoices',
    count: course.value?.invoices,
    what: 'invoices that are your turn',
  },
  { key: 'holds', name: 'Holds', to: '/holds', count: course.value?.holds, what: 'held, and yours to settle' },
  {
    key: 'payments',
    name: 'Payments',
    to: '/payments',
    count: course.value?.payments,
    what: 'invoices to release and runs to finish, yours',
  },
])
watch(
  () => route.fullPath,
  () => left(),
)
watch(
  () => !!person.value && !person.value.oneTime,
  (signedIn) => (signedIn ? listen(client) : hush()),
)
watch(plainLetters, (on) => localStorage.setItem('lagoon.letters', on ? 'on' : 'off'))

/** Signs out and forgets what the person saw. */
async function leave() {
  hush() // nothing is asked any more in a name that is about to go
  giveUp()
  await signOut()
  client.clear()
}

function along(step: number) {
  const at = stages.value.findIndex((s) => s.key === route.meta['stage'])
  const next = stages.value[(at + step + stages.value.length) % stages.value.length]
  if (next) void router.push(next.to)
}

useKeys(() =>
  person.value
    ? [
        { key: ']', label: 'next stage', run: () => along(1), quiet: true },
        { key: '[', label: 'stage before', run: () => along(-1), quiet: true },
        { key: '/', label: 'find anything', run: () => (finding.value = true), quiet: true },
        ...(helping.value
          ? [{ key: 'Escape', label: 'close the keys', run: () => (helping.value = false), quiet: true }]
          : []),
        {
          key: 'F1',
          label: reading.value ? 'close the help' : 'help for this',
          run: () => (reading.value = !reading.value),
          quiet: true,
        },
        { key: '?', label: 'all keys', run: () => (helping.value = !helping.value), quiet: true },
      ]
    : [],
)
/** What a printed page says of itself: the page's own heading, what narrows it, and who printed it when. */
const onPaper = ref({ what: '', when: '' })
function toPaper() {
  const narrowed = [...document.querySelectorAll<HTMLInputElement>('.filters input, .filters select')]
    .filter((f) => f.type !== 'date' && f.value)
    .map((f) => `${document.querySelector(`label[for="${f.id}"]`)?.textContent?.trim() ?? ''} ${f.value}`.trim())
  onPaper.value = {
    what: [document.querySelector('h1')?.textContent?.replace(/\s+/g, ' ').trim(), ...narrowed]
      .filter(Boolean)
      .join(' · '),
    when: `Printed ${showDay(today.value)} ${today.value.slice(0, 4)}, ${clock(new Date())} by ${person.value?.name ?? ''}`,
  }
}
onMounted(() => window.addEventListener('beforeprint', toPaper))
onBeforeUnmount(() => window.removeEventListener('beforeprint', toPaper))
const clock = (at: Date) => at.toTimeString().slice(0, 5)
const strip = computed(() => actions().filter((a) => !a.quiet))
// Tells scripts, the browser tests among them, which keys do something just now.
const inForce = computed(() =>
  actions()
    .map((a) => a.key)
    .join(' '),
)
const caps: Record<string, string> = { ArrowDown: '↑ ↓', ArrowUp: '↑', ArrowLeft: '←', ArrowRight: '→' }
const cap = (key: string) => caps[key] ?? (key.length === 1 ? key.toUpperCase() : key)
</script>

<template>
  <BApp>
    <div class="on-paper" aria-hidden="true">
      <b>{{ current?.company }}</b><span>{{ onPaper.what }}</span
      ><span>{{ onPaper.when }}</span>
    </div>
    <div v-if="slow" class="working" role="progressbar" aria-label="Lagoon is working"></div>
    <p v-if="trouble" class="p-4" role="alert">{{ trouble }}</p>
    <SignInDoor v-else-if="current && (!person || person.oneTime)" />
    <div v-else-if="current" class="frame">
      <header class="course">
        <RouterLink class="brand" to="/"><img src="/lagoon.svg" width="26" height="18" alt="" />Lagoon</RouterLink>
        <nav aria-label="Stages of the work">
          <ol class="stages">
            <li v-for="s in stages" :key="s.key">
              <RouterLink
                :to="s.to"
                :class="{ on: route.meta['stage'] === s.key }"
                :aria-current="route.meta['stage'] === s.key ? 'true' : undefined"
              >
                {{ s.name }}<b :title="`${s.count ?? 0} ${s.what}`">{{ s.count ?? '' }}</b>
              </RouterLink>
            </li>
          </ol>
        </nav>
        <nav class="besides" aria-label="Besides the work">
          <RouterLink to="/lookup/lists/orders" :class="{ on: route.meta['stage'] === 'lookup' }">Look up</RouterLink>
          <RouterLink to="/setup/people" :class="{ on: route.meta['stage'] === 'setup' }">Set up</RouterLink>
        </nav>
        <button type="button" class="find" @click="finding = true">
          <span>Find by number or name</span><kbd>/</kbd>
        </button>
        <span class="who">
          <RouterLink to="/setup/account" title="Your account">{{ person?.name }}</RouterLink>
          <button type="button" @click="leave">sign out</button>
        </span>
      </header>
      <div role="status">
        <p v-if="lostSince" class="lost">
          No connection to Lagoon since {{ clock(lostSince) }}. What you see may be old; what you type is kept, and this
          line goes when Lagoon answers again.
        </p>
      </div>
      <div class="work" :class="{ helped: reading }">
        <RouterView />
        <HelpPanel v-if="reading" @close="reading = false" />
      </div>
      <footer class="keys" :data-in-force="inForce">
        <div class="of-sheet">
          <span v-for="a in strip" :key="a.key"
            ><kbd>{{ cap(a.key) }}</kbd> {{ a.label }}</span
          >
        </div>
        <button type="button" class="to-help" :aria-expanded="reading" @click="reading = !reading">
          <kbd>F1</kbd> help
        </button>
        <span><kbd>?</kbd> all keys</span>
      </footer>
      <FindBox v-model="finding" />
      <BModal v-model="helping" title="Keys" ok-only ok-title="Close" ok-variant="outline-secondary" no-header-close>
        <p>
          In a field a letter is typed; hold <kbd>Alt</kbd> for the action, or leave the field with <kbd>Esc</kbd>.
          <kbd>Enter</kbd> goes to the next field, <kbd>Ctrl+Enter</kbd> does the sheet's main action.
        </p>
        <dl class="row">
          <template v-for="a in actions()" :key="a.key">
            <dt class="col-4">
              <kbd>{{ cap(a.key) }}</kbd>
            </dt>
            <dd class="col-8 mb-1">{{ a.label }}</dd>
          </template>
        </dl>
        <TickBox v-model="plainLetters">Plain letters work outside fields (Alt+letter always does)</TickBox>
      </BModal>
    </div>
  </BApp>
</template>
