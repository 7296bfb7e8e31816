<script setup lang="ts">
// What a limit that is tried comes to beside what is set today.
import { computed } from 'vue'
import { show } from '@/parts/numbers'
import { valueOf, type Trial } from './trials'

const props = defineProps<{ trial: Trial }>()
const more = computed(() => props.trial.tried.verified - props.trial.today.verified)
const money = computed(() => Number(props.trial.tried.passed) - Number(props.trial.today.passed))
const no = computed(() => props.trial.suppliers.reduce((n, s) => n + s.saidNo, 0))
const noWorth = computed(() => props.trial.suppliers.reduce((n, s) => n + Math.round(Number(s.noWorth) * 100), 0) / 100)
const signed = (n: number, text: string) => (n > 0 ? `+${text}` : text)
/** What each of the invoices that pass costs, and what those would that pass a step further. */
const each = computed(() => {
  const { gainedAll: n, beyond, tried, currency } = props.trial
  if (!n || money.value <= 0) return ''
  const one = `${n} ${n === 1 ? 'invoice passes' : 'invoices pass'} for ${show(money.value.toFixed(2))} ${currency}, ${show((money.value / n).toFixed(2))} each.`
  if (!beyond) return one
  const further = beyond.figure.verified - tried.verified
  const cost = Number(beyond.figure.passed) - Number(tried.passed)
  const at = `${show(beyond.at)}${props.trial.limit.percent === undefined ? '' : ' %'}`
  if (!further) return `${one} Up to ${at} no more would.`
  return `${one} Up to ${at} it is ${further} more for ${show(cost.toFixed(2))}, ${show((cost / further).toFixed(2))} each.`
})
</script>

<template>
  <table class="grid figures">
    <thead>
      <tr>
        <th></th>
        <th class="num">Today, {{ valueOf(trial.now, trial.currency) }}</th>
        <th class="num">Tried, {{ valueOf(trial.limit, trial.currency) }}</th>
        <th class="num">Difference</th>
      </tr>
    </thead>
    <tbody>
      <tr>
        <th scope="row">Verified with no act</th>
        <td class="num">{{ trial.today.verified }}</td>
        <td class="num">
          <b>{{ trial.tried.verified }}</b>
        </td>
        <td class="num">{{ signed(more, show(String(more))) }}</td>
      </tr>
      <tr>
        <th scope="row">Held for a person</th>
        <td class="num">{{ trial.today.held }}</td>
        <td class="num">
          <b>{{ trial.tried.held }}</b>
        </td>
        <td class="num">{{ signed(-more, show(String(-more))) }}</td>
      </tr>
      <tr>
        <th scope="row">Passed within limits of this kind, {{ trial.currency }}</th>
        <td class="num">{{ show(trial.today.passed) }}</td>
        <td class="num">
          <b>{{ show(trial.tried.passed) }}</b>
        </td>
        <td class="num">{{ signed(money, show(money.toFixed(2))) }}</td>
      </tr>
      <tr>
        <th scope="row">Of what would pass, people said no to</th>
        <td></td>
        <td class="num" :class="{ 'outside-text': no > 0 }">
          <b>{{ show(noWorth.toFixed(2)) }}</b>
        </td>
        <td class="num">{{ no }} of {{ trial.gainedAll }}</td>
      </tr>
    </tbody>
  </table>
  <p v-if="each" class="mb-2">{{ each }}</p>
</template>
