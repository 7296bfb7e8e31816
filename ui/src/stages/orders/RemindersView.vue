<script setup lang="ts">
// Whom to remind: suppliers who have not acknowledged an order, those whose goods are late, and those whose notice is missing.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import MoreRows from '@/parts/MoreRows.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import { distance, show, showDay, showInstant, sums } from '@/parts/numbers'
import { may, today } from '@/parts/session'
import SendPanel from './SendPanel.vue'
import { placeOf } from '@/parts/places'

const { data: reminders, isPending } = useQuery({
  queryKey: ['reminders'],
  queryFn: () => unwrap(api.GET('/api/reminders')),
})
const { data: waiting } = useQuery({
  queryKey: ['lists', 'waiting', 'chase'],
  queryFn: () =>
    unwrap(api.GET('/api/lists/{list}', { params: { path: { list: 'waiting' }, query: { show: 'chase' } } })),
})
const open = ref(0)
const groups = computed(() => [
  { title: 'Goods are late', empty: 'Nothing is so late that it is chased.', rows: reminders.value?.late ?? [] },
  {
    title: 'Not acknowledged',
    empty: 'Nothing is to be asked for.',
    rows: reminders.value?.unanswered ?? [],
  },
  {
    title: 'Not announced',
    empty: 'Every notice that is required by now is here.',
    rows: reminders.value?.unannounced ?? [],
  },
])
</script>

<template>
  <section class="sheet" aria-label="Reminders">
    <NoticeBar />
    <header>
      <div class="headline">
        <h1>Reminders</h1>
        <span class="muted">the most pressing first</span>
      </div>
    </header>
    <div class="body">
      <template v-for="g in groups" :key="g.title">
        <h2 class="mb-1">
          {{ g.title }} <span class="muted">{{ isPending ? '…' : g.rows.length }}</span>
        </h2>
        <p v-if="!isPending && g.rows.length === 0" class="empty">{{ g.empty }}</p>
        <table v-else class="grid mb-4">
          <thead>
            <tr>
              <th>Order</th>
              <th class="named">Supplier</th>
              <th>Goods</th>
              <th>Wanted</th>
              <th class="num">Net</th>
              <th>Told last</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            <template v-for="p in g.rows" :key="p.order.number">
              <tr>
                <td>
                  <RouterLink class="mono" :to="placeOf.order(p.order.number)">{{ p.order.number }}</RouterLink>
                </td>
                <td>
                  {{ p.order.supplier }}
                  <span v-if="p.contact.name" class="d-block small muted nowrap"
                    ><a :href="`mailto:${p.contact.mail}`" :title="p.contact.mail">{{ p.contact.name }}</a
                    ><template v-if="p.contact.phone"> · {{ p.contact.phone }}</template></span
                  >
                  <span v-else class="d-block small advice">no contact with a mail address is known</span>
                </td>
                <td>{{ p.order.about }}</td>
                <td class="nowrap">{{ showDay(p.order.wantedOn, today) }}, {{ distance(p.order.wantedOn, today) }}</td>
                <td class="num">{{ show(p.order.net) }} {{ p.order.currency }}</td>
                <td class="nowrap">
                  {{ p.last ? showInstant(p.last, today) : 'never'
                  }}{{ p.reminded ? `, reminded ${p.reminded} ×` : '' }}
                </td>
                <td>
                  <button
                    v-if="may('sendOrder')"
                    type="button"
                    class="linkish"
                    :aria-label="`Remind about order ${p.order.number}`"
                    @click="open = open === p.order.number ? 0 : p.order.number"
                  >
                    Remind…
                  </button>
                </td>
              </tr>
              <tr v-if="open === p.order.number" class="said">
                <td colspan="7">
                  <SendPanel :number="p.order.number" kind="reminder" @done="open = 0" @cancel="open = 0" />
                </td>
              </tr>
            </template>
          </tbody>
          <tfoot>
            <tr>
              <td colspan="4">{{ g.rows.length }} {{ g.rows.length === 1 ? 'order' : 'orders' }}</td>
              <td class="num">{{ sums(g.rows.map((p) => ({ amount: p.order.net, currency: p.order.currency }))) }}</td>
              <td colspan="2"></td>
            </tr>
          </tfoot>
        </table>
      </template>
      <h2 class="mb-1">
        Invoices wait for goods
        <span class="muted">{{ waiting?.rows.length ?? '…' }}{{ waiting?.more ? '+' : '' }}</span>
      </h2>
      <p v-if="waiting?.rows.length === 0" class="empty">No invoice waits so long that its goods are chased.</p>
      <p v-else>
        <RouterLink :to="placeOf.list('waiting', { show: 'chase' })"
          >What invoices ask and is not here, line by line, to narrow, sum, mail and take along</RouterLink
        >
      </p>
      <MoreRows :more="reminders?.more" way="Orders whose goods are wanted later than these were not looked through." />
    </div>
  </section>
</template>
