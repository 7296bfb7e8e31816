<script setup lang="ts">
// A despatch notice: what was announced, what was counted of it, and the difference, line by line.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import HistoryFold from '@/parts/HistoryFold.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import { useKeys } from '@/parts/keys'
import { show, showDay, showInstant } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'
import EndStart from './EndStart.vue'
import { against } from './notices'

const props = defineProps<{ number: number }>()
const router = useRouter()
const { data: n, error } = useQuery({
  queryKey: ['notice', props.number],
  queryFn: () => unwrap(api.GET('/api/notices/{number}', { params: { path: { number: props.number } } })),
})
const states: Record<string, string> = { open: 'on its way', arrived: 'arrived', withdrawn: 'taken back' }
const rows = computed(() => against(n.value?.lines ?? [], n.value?.counted))
const open = computed(() => n.value?.notice.state === 'open')
const ending = ref(false)
const book = () => void router.push(placeOf.fromNotice(n.value!.notice.order, props.number))
useKeys(() => (open.value && may('bookDelivery') ? [{ key: 'b', label: 'book it', run: book }] : []))
</script>

<template>
  <section class="sheet" aria-label="Notice">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="n">
      <header>
        <div class="headline">
          <h1>
            Notice <span class="mono fw-medium">{{ n.notice.reference }}</span>
          </h1>
          <span class="fw-semibold">{{ states[n.notice.state] ?? n.notice.state }}</span>
        </div>
        <dl class="facts">
          <div>
            <dt>Supplier</dt>
            <dd>{{ n.notice.supplier }}</dd>
          </div>
          <div>
            <dt>Order</dt>
            <dd class="mono">
              <RouterLink :to="placeOf.order(n.notice.order)">{{ n.notice.order }}</RouterLink>
            </dd>
          </div>
          <div>
            <dt>{{ open ? 'Expected' : 'Was expected' }}</dt>
            <dd>{{ showDay(n.notice.expectedOn, today) }}</dd>
          </div>
          <div v-if="n.notice.carrier">
            <dt>By</dt>
            <dd>{{ n.notice.carrier }}</dd>
          </div>
          <div v-if="n.arrived">
            <dt>Delivery</dt>
            <dd class="mono">
              <RouterLink :to="placeOf.delivery(n.arrived)">{{ n.arrived }}</RouterLink>
            </dd>
          </div>
          <div>
            <dt>Entered</dt>
            <dd>{{ showInstant(n.at, today) }} by {{ n.by }}</dd>
          </div>
          <div>
            <dt>Lagoon’s number</dt>
            <dd class="mono">{{ number }}</dd>
          </div>
        </dl>
      </header>
      <div class="body" tabindex="0">
        <EndStart v-if="ending" :notice="number" :arrival="undefined" @done="ending = false" @cancel="ending = false" />
        <table class="grid mb-3">
          <thead>
            <tr>
              <th class="named">Line</th>
              <th class="num">Announced</th>
              <th class="num">Counted</th>
              <th class="num">Difference</th>
              <th>Lots announced</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in rows" :key="r.no">
              <td>
                <b>{{ r.description }}</b><br /><span class="muted">{{ r.unitName }}</span>
              </td>
              <td class="num">{{ r.announced ? show(r.announced) : 'not announced' }}</td>
              <td class="num">{{ n.counted ? show(r.counted) : '' }}</td>
              <td class="num" :class="{ 'outside-text': Number(r.difference) }">
                {{ n.counted ? (Number(r.difference) ? show(r.difference) : 'none') : '' }}
              </td>
              <td class="mono">{{ r.lots }}</td>
            </tr>
          </tbody>
        </table>
        <HistoryFold subject="notice" :number="number" />
      </div>
      <div v-if="open" class="bar">
        <BButton v-if="may('bookDelivery')" variant="primary" @click="book">Book it</BButton>
        <BButton v-if="may('withdrawNotice')" variant="outline-secondary" @click="ending = true"
          >Take the notice back…</BButton
        >
      </div>
    </template>
  </section>
</template>
