<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, unwrap, type Found } from '@/api/client'
import TextField from '@/parts/TextField.vue'
import { pagesBy } from './pages'
import { person } from './session'

const open = defineModel<boolean>({ required: true })
const router = useRouter()
const text = ref('')
/** What was found, or opened last, or a page by its words (its number is then its address). */
const found = ref<Found[]>([])
const asked = ref('')
const at = ref(0)
const words: Record<string, string> = {
  order: 'Order',
  delivery: 'Delivery',
  notice: 'Notice',
  invoice: 'Invoice',
  mail: 'Mail',
  run: 'Payment run',
  supplier: 'Supplier',
  item: 'Item',
  person: 'Person',
  page: 'Page',
}
let back: HTMLElement | null = null

watch(open, async (now) => {
  if (!now) {
    back?.focus()
    return
  }
  back = document.activeElement as HTMLElement
  text.value = ''
  found.value = opened()
  asked.value = ''
  at.value = 0
  await nextTick()
  document.getElementById('find-text')?.focus()
})

const paths: Record<string, string> = {
  order: '/orders/',
  delivery: '/receiving/deliveries/',
  notice: '/receiving/notices/',
  invoice: '/invoices/',
  mail: '/invoices/mail/',
  run: '/payments/runs/',
  supplier: '/setup/suppliers/',
  item: '/setup/items/',
  person: '/setup/people?person=',
}
async function look() {
  const q = text.value.trim()
  at.value = 0
  if (q === '') {
    found.value = opened()
    asked.value = ''
    return
  }
  const answer = await unwrap(api.GET('/api/find', { params: { query: { q } } })).catch(() => [])
  if (q !== text.value.trim()) return // a later question is on its way
  const pages = pagesBy(q).map((p) => ({ kind: 'page', number: p.to, label: p.name }))
  found.value = [...answer.filter((f) => f.kind in paths), ...pages]
  asked.value = q
}
watch(text, () => void look())

function place(f: Found): string {
  return f.kind === 'page' ? f.number : paths[f.kind] + f.number
}
const most = 8
const kept = () => `lagoon.opened.${person.value?.login}`
/** What this person opened last from here, the latest first. */
function opened(): Found[] {
  try {
    return JSON.parse(localStorage.getItem(kept()) ?? '[]') as Found[]
  } catch {
    return []
  }
}
function keep(f: Found) {
  const others = opened().filter((o) => o.kind !== f.kind || o.number !== f.number)
  localStorage.setItem(kept(), JSON.stringify([f, ...others].slice(0, most)))
}
async function go(f: Found | undefined) {
  if (!f) return
  keep(f)
  open.value = false
  back = null
  await router.push(place(f))
}
async function enter() {
  if (asked.value !== text.value.trim()) await look()
  await go(found.value[at.value])
}
</script>

<template>
  <div v-if="open" class="palette" data-own-keys @click.self="open = false" @keydown.esc.stop.prevent="open = false">
    <div class="box" role="dialog" aria-modal="true" aria-label="Find anything">
      <label for="find-text" class="mb-1">By number, amount or name; pages by their words</label>
      <TextField
        id="find-text"
        v-model="text"
        autocomplete="off"
        role="combobox"
        aria-controls="find-list"
        :aria-expanded="found.length > 0"
        :aria-activedescendant="found.length ? `find-${at}` : undefined"
        @keydown.enter.prevent="enter"
        @keydown.tab.prevent
        @keydown.down.prevent="at = Math.min(found.length - 1, at + 1)"
        @keydown.up.prevent="at = Math.max(0, at - 1)"
      />
      <p v-if="found.length && !text.trim()" class="muted mt-2 mb-1">Opened last</p>
      <ul v-if="found.length" id="find-list" role="listbox" aria-label="Found">
        <li
          v-for="(f, i) in found"
          :id="`find-${i}`"
          :key="f.kind + f.number"
          role="option"
          :aria-selected="i === at"
          @click="go(f)"
        >
          <span class="muted">{{ words[f.kind] }}</span>
          <span v-if="f.kind !== 'page'" class="mono">{{ f.number }}</span>
          <span>{{ f.label }}</span>
        </li>
      </ul>
      <p v-else-if="asked" class="muted mt-2 mb-0">
        Nothing is found under “{{ asked }}”. Try three digits of a number, or the beginning of a name.
      </p>
    </div>
  </div>
</template>
