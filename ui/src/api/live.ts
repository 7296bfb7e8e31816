import { ref } from 'vue'
import type { QueryClient } from '@tanstack/vue-query'
import { onSignedOut } from './client'
import { forget, readAgain } from './fresh'
import { onLost } from './wire'

const silence = 40_000 // the server says every 15 s that it is there
const patience = 2_500 // a stream that comes back sooner was not lost
const pause = 3_000 // before a stream that ended is opened again
const breath = 250 // what changes within it is asked for together

/** Since when Lagoon has not been heard; undefined while all is well. */
export const lostSince = ref<Date>()

/** Who else has which invoice open just now. */
interface Present {
  name: string
  invoice: number
}
const present = ref<Present[]>([])
export const presentOn = (invoice: number) => present.value.filter((p) => p.invoice === invoice).map((p) => p.name)

type Heard = 'here' | 'change' | 'lost' | 'ended' | { importing: string } | { present: Present[] }

/** How far an import is that is going on: "50 of 400". */
export const importing = ref('')

let client: QueryClient | undefined
let stream: EventSource | undefined
let channel: BroadcastChannel | undefined
let giveUp: (() => void) | undefined // the lead of the tabs
let last = 0
let watchdog: ReturnType<typeof setInterval> | undefined
let reopening: ReturnType<typeof setTimeout> | undefined
let refreshing: ReturnType<typeof setTimeout> | undefined
let doubt: ReturnType<typeof setTimeout> | undefined

function refresh() {
  if (client) forget(client) // at once: what is opened within the breath is asked for anyway
  refreshing ??= setTimeout(() => {
    refreshing = undefined
    if (client) void readAgain(client)
  }, breath)
}

function take(heard: Heard) {
  if (heard === 'lost') {
    lostSince.value ??= new Date()
    return
  }
  last = Date.now()
  clearTimeout(doubt)
  doubt = undefined
  if (lostSince.value) {
    lostSince.value = undefined
    refresh() // what was missed meanwhile
  }
  if (heard === 'change') refresh()
  if (typeof heard === 'object' && 'importing' in heard) importing.value = heard.importing
  if (typeof heard === 'object' && 'present' in heard) present.value = heard.present
  if (heard === 'ended') onSignedOut.call()
}

/** What this tab hears of the server is for the other tabs too. */
function hear(heard: Heard) {
  channel?.postMessage(heard)
  take(heard)
}

function open() {
  stream?.close()
  const opened = new EventSource('/api/live')
  stream = opened
  for (const heard of ['here', 'ended'] as const) opened.addEventListener(heard, () => hear(heard))
  opened.addEventListener('change', (e: MessageEvent<string>) => {
    const changes = JSON.parse(e.data) as { what: string; number: string }[]
    const step = changes.filter((c) => c.what === 'import').at(-1)
    if (step) hear({ importing: step.number })
    if (changes.some((c) => c.what !== 'import')) hear('change') // an import changes nothing before it is done
  })
  opened.addEventListener('present', (e: MessageEvent<string>) => hear({ present: JSON.parse(e.data) as Present[] }))
  opened.onerror = () => {
    doubt ??= setTimeout(() => hear('lost'), patience)
    if (opened.readyState === EventSource.CLOSED) reopening = setTimeout(() => stream === opened && open(), pause)
  }
}

function watch() {
  if (Date.now() - last > silence) {
    take('lost')
    if (stream) open()
  }
}

/**
 * Begins to hear what others change. One tab keeps the stream and tells the others, since a browser opens only a few
 * connections to one server.
 */
export function listen(queries: QueryClient): void {
  if (client) return
  client = queries
  last = Date.now()
  onLost.call = () => take('lost')
  watchdog = setInterval(watch, silence / 4)
  if (!('locks' in navigator) || !('BroadcastChannel' in window)) {
    open()
    return
  }
  channel = new BroadcastChannel('lagoon-live')
  channel.onmessage = (e: MessageEvent<Heard>) => take(e.data)
  void navigator.locks.request('lagoon-live', () => {
    if (!client) return undefined
    open()
    return new Promise<void>((done) => (giveUp = done))
  })
}

/** Ends to hear; signing out does. */
export function hush(): void {
  stream?.close()
  channel?.close()
  giveUp?.()
  clearInterval(watchdog)
  for (const t of [reopening, refreshing, doubt]) clearTimeout(t)
  client = stream = channel = giveUp = watchdog = reopening = refreshing = doubt = undefined
  lostSince.value = undefined
  present.value = []
}
