<script setup lang="ts">
// What happened to a document: when, by whom, from what to what, why, and every match with its cause.
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { showInstant } from './numbers'
import { today } from './session'

const props = defineProps<{
  subject:
    | 'order'
    | 'delivery'
    | 'invoice'
    | 'run'
    | 'statement'
    | 'supplier'
    | 'item'
    | 'budget'
    | 'mail'
    | 'batch'
    | 'notice'
  number: number | string
}>()
const { data: history, error } = useQuery({
  queryKey: ['history', props.subject, props.number],
  queryFn: () =>
    unwrap(
      api.GET('/api/history/{subject}/{number}', {
        params: { path: { subject: props.subject, number: String(props.number) } },
      }),
    ),
})
</script>

<template>
  <section aria-label="History" class="history">
    <p v-if="error" class="text-danger">{{ error.message }}</p>
    <ol v-else class="list-unstyled mb-0">
      <li v-for="(c, i) in history?.changes ?? []" :key="i">
        <div>
          <b>{{ c.what }}</b><span v-if="c.related" class="muted"> · by another document</span>
        </div>
        <div class="small muted">{{ showInstant(c.at, today) }} · {{ c.by }}</div>
        <div v-if="c.why" class="small">{{ c.why }}</div>
        <div v-if="c.from || c.into" class="small said">
          <span v-if="c.from" class="muted">{{ c.from }} → </span>{{ c.into }}
        </div>
      </li>
    </ol>
    <p v-if="history?.more" class="small muted">What is older stands in the record.</p>
  </section>
</template>
