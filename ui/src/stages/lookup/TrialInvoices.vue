<script setup lang="ts">
// The invoices that stand otherwise under a limit that is tried: what people said no to first, then the dearest.
import { computed } from 'vue'
import { show, showDay } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import type { Trial } from './trials'

const props = defineProps<{ trial: Trial }>()
const said: Record<string, string> = {
  accepted: 'accepted by',
  claimed: 'claimed by',
  refused: 'refused by',
  corrected: 'corrected by',
}
const parts = computed(() =>
  [
    { title: 'Would pass', rows: props.trial.gained, all: props.trial.gainedAll },
    { title: 'Would be held', rows: props.trial.lost, all: props.trial.lostAll },
  ].filter((p) => p.all),
)
</script>

<template>
  <aside class="side" aria-label="Invoices that stand otherwise" tabindex="0">
    <p v-if="!parts.length" class="muted">No invoice of the period would stand otherwise.</p>
    <template v-for="p in parts" :key="p.title">
      <h2>
        {{ p.title }} <span class="muted">{{ p.all }}</span>
      </h2>
      <p v-if="p.title === 'Would pass'" class="muted small mb-1">what people said no to first, then the dearest</p>
      <ul class="plain tried">
        <li v-for="i in p.rows" :key="i.invoice">
          <div class="d-flex justify-content-between gap-2">
            <span
              >{{ i.supplier }}
              <RouterLink :to="placeOf.invoice(i.invoice)" class="mono">{{ i.supplierNumber }}</RouterLink></span
            >
            <b>{{ show(i.worth) }}</b>
          </div>
          <div class="small">{{ i.text }}</div>
          <div class="small" :class="['claimed', 'refused'].includes(i.decided) ? 'outside-text' : 'muted'">
            {{
              i.decided
                ? `${said[i.decided]} ${i.by}, ${showDay(i.on)}`
                : i.open
                  ? 'open'
                  : 'nobody did anything about it'
            }}
          </div>
        </li>
      </ul>
      <p v-if="p.all > p.rows.length" class="muted small">{{ p.all - p.rows.length }} more.</p>
    </template>
  </aside>
</template>
