<script setup lang="ts">
// One order line that is being counted: what came, what is said about it, its lots.
import { computed, nextTick, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import type { Finding, OrderLine } from '@/api/client'
import { companyQuery } from '@/api/queries'
import LineGauge from '@/parts/LineGauge.vue'
import NumberField from '@/parts/NumberField.vue'
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { read, sent, show } from '@/parts/numbers'
import { apart } from './notices'
import LotRows from './LotRows.vue'
import type { Count } from './count'

const props = defineProps<{
  line: OrderLine
  said: Finding | undefined
  problem: string | undefined
  lotProblem: string | undefined
  /** Something is typed on some line, so that a blank is nothing and not all of it. */
  typedAny: boolean
  origins: boolean
  on: boolean
  may: boolean
  count: Count
  /** What a notice announced of it, where the delivery starts from one. */
  announced?: string | undefined
}>()
const emit = defineEmits<{ here: []; leaveOpen: []; toLimit: []; refuse: []; change: [part: Partial<Count>] }>()

/** Goods came for a line that is closed: they can only be refused, or the line opened again. */
const unwanted = computed(() => props.line.closedGoods && props.count.now.trim() !== '')
const outside = computed(() => props.said?.verdict === 'outside')
const words = { agrees: 'all here', waiting: 'rest stays open', within: 'in limit', outside: 'past limit' }
const unitName = computed(
  () => props.line.units.find((u) => u.unit === props.count.unit)?.unitName ?? props.line.unitName,
)
const units = computed(() => [
  { value: '', text: props.line.unitName },
  ...props.line.units.map((u) => ({ value: u.unit, text: u.unitName ?? u.unit })),
])
const { data: frame } = useQuery(companyQuery)
const reasons = computed(() => (frame.value?.refusals ?? []).map((r) => ({ value: r.code, text: r.name })))
/** How far what is typed is from what was announced; counted in another unit, that is not said. */
const differs = computed(() => {
  const now = sent(props.count.now, props.line.quantity) || '0'
  if (props.announced === undefined || props.count.unit || !/^\d+(\.\d+)?$/.test(now)) return ''
  return apart([now, sent(props.count.refused) || '0'], props.announced)
})
const remarking = ref(false)
async function remark() {
  remarking.value = true
  await nextTick()
  document.getElementById(`remark-${props.line.no}`)?.focus()
}
</script>

<template>
  <tr :class="{ on }" @focusin="emit('here')">
    <td>
      <b>{{ line.description }}</b><br /><span class="muted" :title="`Over: ${line.over}. Under: ${line.under}.`"
        >{{ line.unitName
        }}<template v-if="line.least !== line.most"> · {{ show(line.least) }} to {{ show(line.most) }}</template></span
      >
      <span v-if="on && may" class="d-block small"
        ><button v-if="!count.refused" type="button" class="linkish" tabindex="-1" @click="emit('refuse')">
          Refuse…
        </button>
        <button v-if="!count.remark && !remarking" type="button" class="linkish ms-2" tabindex="-1" @click="remark">
          Condition…
        </button></span
      >
      <span v-if="origins" class="d-block small">Over: {{ line.over }}. Under: {{ line.under }}.</span>
    </td>
    <td class="num">{{ show(line.quantity) }}</td>
    <td class="num">{{ show(line.received) }}</td>
    <td class="num">
      <NumberField
        :id="`now-${line.no}`"
        :model-value="count.now"
        :label="`${line.description}, quantity now`"
        :whole="line.quantity"
        :error="unwanted ? ' ' : (problem ?? (outside ? ' ' : undefined))"
        :placeholder="line.awaitsGoods ? show(line.rest) : '—'"
        :described="outside || unwanted ? `said-${line.no}` : undefined"
        :disabled="!may"
        @update:model-value="(now) => emit('change', { now })"
      />
      <div v-if="announced !== undefined" class="small" :class="differs ? 'advice' : 'muted'">
        announced {{ Number(announced) ? show(announced) : 'nothing' }}{{ differs && `, ${differs}` }}
      </div>
      <PickField
        v-if="line.units.length"
        :id="`unit-${line.no}`"
        :model-value="count.unit"
        size="sm"
        class="mt-1"
        data-aside
        :aria-label="`${line.description}, counted in`"
        :disabled="!may"
        :options="units"
        @update:model-value="(unit) => emit('change', { unit })"
      />
    </td>
    <td>
      <TickBox
        v-if="!line.closedGoods"
        :id="`close-${line.no}`"
        :model-value="count.close"
        :disabled="!may"
        :aria-label="`${line.description}: no more to come`"
        @update:model-value="(close) => emit('change', { close })"
      />
    </td>
    <td>
      <span v-if="line.closedGoods" class="muted">closed</span>
      <VerdictMark v-else-if="said" :verdict="said.verdict" :text="words[said.verdict]" />
      <VerdictMark v-else-if="!line.awaitsGoods" verdict="agrees" text="all here" />
      <span v-else class="muted nowrap">{{ show(line.rest) }} open</span>
    </td>
    <td><LineGauge :line="line" :now="read(count.now, line.quantity) || (typedAny ? '0' : line.rest)" /></td>
  </tr>
  <tr
    v-if="said && !line.closedGoods && (typedAny || outside) && (said.verdict !== 'agrees' || count.unit)"
    class="said"
  >
    <td colspan="7">
      <div :id="`said-${line.no}`" class="finding mb-0" :class="said.verdict">
        <div class="said">
          <span>{{ said.sentence }}</span>
          <template v-if="outside">
            <button v-if="said.kind === 'under_delivery'" type="button" class="linkish" @click="emit('leaveOpen')">
              Leave open <kbd>O</kbd>
            </button>
            <button v-else type="button" class="linkish" @click="emit('toLimit')">
              {{ Number(said.nearest) > 0 ? 'Book to the limit' : 'Refuse at the door' }} <kbd>L</kbd>
            </button>
          </template>
        </div>
      </div>
    </td>
  </tr>
  <tr v-if="unwanted" class="said">
    <td colspan="7">
      <div :id="`said-${line.no}`" class="finding mb-0 outside">
        <div class="said">
          <span>{{ problem ?? 'This line is closed: no more goods are expected on it.' }}</span>
          <button type="button" class="linkish" @click="emit('toLimit')">Refuse at the door <kbd>L</kbd></button>
        </div>
      </div>
    </td>
  </tr>
  <tr v-if="count.lots.length || lotProblem" class="said" @focusin="emit('here')">
    <td colspan="7">
      <LotRows
        :model-value="count.lots"
        :no="line.no"
        :name="line.description"
        :error="lotProblem"
        :disabled="!may || line.closedGoods"
        @update:model-value="(lots) => emit('change', { lots })"
      />
    </td>
  </tr>
  <tr v-if="count.refused || count.remark || remarking" class="said" @focusin="emit('here')">
    <td colspan="7">
      <div class="d-flex flex-wrap gap-2 align-items-start">
        <template v-if="count.refused">
          <label :for="`refused-${line.no}`" class="pt-1">Refused at the door, {{ unitName }}</label>
          <NumberField
            :id="`refused-${line.no}`"
            :model-value="count.refused"
            :label="`${line.description}, refused`"
            :disabled="!may"
            style="width: 90px"
            @update:model-value="(refused) => emit('change', { refused })"
          />
          <PickField
            :id="`refused-why-${line.no}`"
            :model-value="count.reason"
            data-aside
            :aria-label="`${line.description}, why it is refused`"
            :options="reasons"
            :disabled="!may"
            style="width: 190px"
            @update:model-value="(reason) => emit('change', { reason })"
          />
          <button type="button" class="linkish pt-1" @click="emit('change', { refused: '', reason: '' })">
            Take that back
          </button>
        </template>
        <template v-if="count.remark || remarking">
          <label :for="`remark-${line.no}`" class="pt-1">Condition</label>
          <TextField
            :id="`remark-${line.no}`"
            :model-value="count.remark"
            autocomplete="off"
            :disabled="!may"
            style="width: 260px"
            @update:model-value="(remark) => emit('change', { remark })"
          />
        </template>
      </div>
    </td>
  </tr>
</template>
