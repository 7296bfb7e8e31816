<script setup lang="ts">
// The limits that can be tried on what was matched before, what held most first, and what was tried.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { trialsQuery } from '@/api/queries'
import { sorts } from '@/parts/limits'
import { show, showDay, showInstant } from '@/parts/numbers'
import { today } from '@/parts/session'
import LookFrame from './LookFrame.vue'
import { limitName, placeAt, placeName, trialOf, valueOf } from './trials'

const { data, error } = useQuery(trialsQuery)
/** What the company does not limit itself can be tried as well. */
const unset = computed(() =>
  sorts
    .filter((s) => s.kind !== 'delivery')
    .flatMap((s) => s.sides.map((side) => ({ kind: s.kind, side: side })))
    .filter((l) => l.kind !== 'unit_price' || l.side !== 'under')
    .filter(
      (l) =>
        !data.value?.limits.some(
          (h) => h.limit.kind === l.kind && h.limit.side === l.side && !h.at.supplier && !h.at.item && !h.at.charge,
        ),
    ),
)
</script>

<template>
  <LookFrame
    title="Limits tried on history"
    :says="
      data
        ? `What another limit would have done to the ${show(String(data.invoices))} invoices since ${showDay(data.since, today)}. Nothing is booked by it.`
        : ''
    "
    :error="error"
    :ready="data !== undefined"
  >
    <template v-if="data">
      <table class="grid trials mb-4">
        <thead>
          <tr>
            <th>Limit</th>
            <th>Set for</th>
            <th class="num">Today</th>
            <th class="num">Held by it</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="h in data.limits" :key="trialOf(h.limit, h.at)">
            <td>
              <RouterLink :to="trialOf(h.limit, h.at)"
                >{{ limitName(h.limit)
                }}<span v-if="placeName(h.at) !== 'the company'" class="visually-hidden">
                  for {{ placeName(h.at) }}</span
                ></RouterLink
              >
            </td>
            <td>{{ placeName(h.at) }}</td>
            <td class="num">{{ valueOf(h.limit, data.currency) }}</td>
            <td class="num">{{ h.held || '–' }}</td>
          </tr>
          <tr v-for="l in unset" :key="`${l.kind} ${l.side}`">
            <td>
              <RouterLink :to="trialOf(l, { supplier: '', item: '', charge: '' })">{{ limitName(l) }}</RouterLink>
            </td>
            <td>the company</td>
            <td class="num muted">none set</td>
            <td class="num">–</td>
          </tr>
        </tbody>
      </table>
      <p class="muted small">
        <i>Held by it</i>: invoices that it held, among other reasons or alone. A delivery past its limit is not booked,
        so nothing is on record to try a limit of deliveries on.
      </p>
      <template v-if="data.kept.length">
        <h2>Tried before</h2>
        <table class="grid trials">
          <thead>
            <tr>
              <th>Limit</th>
              <th>Set for</th>
              <th>From, to</th>
              <th class="num">Verified with no act</th>
              <th class="num">Passed, {{ data.currency }}</th>
              <th>Outcome</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="k in data.kept" :key="k.number">
              <td>
                <RouterLink
                  :to="`${trialOf(k.limit, placeAt(k.at))}&percent=${k.limit.percent ?? ''}&absolute=${k.limit.absolute ?? ''}`"
                  >{{ limitName(k.limit) }}<span class="visually-hidden"> (trial {{ k.number }})</span></RouterLink
                >
              </td>
              <td>
                {{ placeName(k.at)
                }}<span v-if="k.also.length" class="muted"> and {{ k.also.map(placeName).join(', ') }}</span>
              </td>
              <td>{{ valueOf(k.was, data.currency) }} → {{ valueOf(k.limit, data.currency) }}</td>
              <td class="num">
                {{ k.verified }} <span class="muted">for {{ k.verifiedBefore }} of {{ k.invoices }}</span>
              </td>
              <td class="num">
                {{ show(k.passed) }} <span class="muted">for {{ show(k.passedBefore) }}</span>
              </td>
              <td>
                <b>{{ k.adopted ? 'adopted' : 'left' }}</b> by {{ k.by }}, {{ showInstant(k.on, today) }}
                <div class="small muted">{{ k.reason }}</div>
              </td>
            </tr>
          </tbody>
        </table>
      </template>
    </template>
  </LookFrame>
</template>
