<script setup lang="ts">
// Whether the books prove themselves: a row of what a month's end leaves, proved anew where somebody asks for it.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useJob } from '@/parts/job'
import { showInstant } from '@/parts/numbers'
import { today } from '@/parts/session'

const { data } = useQuery({
  queryKey: ['proof'],
  queryFn: () => unwrap(api.GET('/api/proof')),
  refetchInterval: (q) => (q.state.data?.running ? 700 : false),
})
const { send, busy } = useJob()
const prove = () => send(() => unwrap(api.POST('/api/proof')), {})
const many = (n: number, one: string, more: string) => (n === 1 ? `1 ${one}` : `${n} ${more}`)
const stands = computed(() => {
  const p = data.value
  if (!p) return ''
  if (p.running) return 'they are being proved; you can go on meanwhile'
  if (p.failed) return p.failed
  if (!p.at) return 'not proved since Lagoon was started'
  const when = showInstant(p.at, today.value)
  const since = p.since ? `, ${many(p.since, 'act', 'acts')} ago` : ''
  return p.found
    ? `${many(p.found, 'difference', 'differences')} at ${when}${since}`
    : `the documents and the books said the same at ${when}${since}`
})
const clean = computed(() => !!data.value?.at && !data.value.found && !data.value.failed && !data.value.running)
</script>

<template>
  <tr v-if="data">
    <td><VerdictMark :verdict="clean ? 'agrees' : 'outside'" :text="clean ? 'done' : 'open'" /></td>
    <td><b>The books prove themselves</b></td>
    <td>
      <span role="status">{{ stands }}</span>
      <ul v-if="data.differences.length" class="plain small mb-0">
        <li v-for="(d, i) in data.differences" :key="i">
          <b>{{ d.document }}</b> {{ d.text }}
        </li>
      </ul>
    </td>
    <td></td>
    <td>
      <button type="button" class="linkish d-block" :disabled="busy || data.running" @click="prove">prove</button>
    </td>
  </tr>
</template>
