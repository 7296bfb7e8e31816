<script setup lang="ts">
// What a batch came to, or would: the verdict and what is to be done first, then each invoice with its lines and totals.
import { computed } from 'vue'
import type { BatchReport } from '@/api/client'
import VerdictMark from '@/parts/VerdictMark.vue'
import { price, show } from '@/parts/numbers'
import { placeOf } from '@/parts/places'

const props = defineProps<{ report: BatchReport }>()
const judged = computed(() => props.report.outcomes.filter((o) => o.verdict))
const count = (...verdicts: string[]) => judged.value.filter((o) => verdicts.includes(o.verdict)).length
const said = computed(() => {
  const [well, waits, stands] = [count('agrees', 'within'), count('waiting'), count('outside')]
  return props.report.tried
    ? `${well} would be verified, ${waits} would wait, ${stands} would be held or refused. Nothing of this stands yet.`
    : `${well} verified, ${waits} waiting, ${stands} held or refused.`
})
const first = computed(() =>
  [...judged.value].sort((a, b) => Number(b.verdict === 'outside') - Number(a.verdict === 'outside') || a.no - b.no),
)
const numberOf = (no: number) => props.report.rows[no - 1]?.number
</script>

<template>
  <section class="mt-3" aria-label="What it comes to">
    <h2 class="mb-1">
      {{ report.tried ? 'If it were captured now' : 'What it came to' }}
      <a v-if="!report.tried" class="linkish" :href="`/api/batches/${report.number}/report`" download>Save as PDF</a>
    </h2>
    <p class="mb-2" role="status">
      <b>{{ said }}</b>
      <span v-for="p in report.parts" :key="p.control" class="outside-text d-block">{{ p.sentence }}</span>
    </p>
    <article v-for="o in first" :key="o.no" class="mb-3">
      <VerdictMark :verdict="o.verdict as 'agrees'" class="me-2" />
      <b>Row {{ o.no }}</b> <span class="mono">{{ numberOf(o.no) }}</span><template v-if="o.supplier">
        · {{ o.supplier }}</template
      >
      <RouterLink v-if="o.invoice" class="ms-1" :to="placeOf.invoice(o.invoice)">invoice {{ o.invoice }}</RouterLink>
      <span class="ms-1" :class="{ 'outside-text': o.verdict === 'outside' }">{{ o.said }}</span>
      <ul v-if="o.toDo.length" class="plain ms-3">
        <li v-for="t in o.toDo" :key="t">{{ t }}</li>
      </ul>
      <ul v-if="o.stated" class="plain ms-3 muted">
        <li v-for="(l, i) in o.lines" :key="i">
          {{ show(l.quantity) }} {{ l.unitName }} {{ l.description }} at {{ price(l.price) }}: {{ show(l.net) }}
        </li>
        <li v-for="(c, i) in o.charges" :key="`c${i}`">{{ c.description }}: {{ show(c.net) }}</li>
        <li>
          Net {{ show(o.net) }}, tax {{ show(o.tax) }}, with tax {{ show(o.computed) }}; stated {{ show(o.stated) }}
          {{ o.currency }}
        </li>
      </ul>
    </article>
  </section>
</template>
