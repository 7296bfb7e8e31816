<script setup lang="ts">
// What an account of ours had by its last statement, and what is left of it as the runs under way leave, day by day.
import type { AtBank } from '@/api/client'
import { placeOf } from '@/parts/places'
import { show, showDay } from '@/parts/numbers'
import { today } from '@/parts/session'

defineProps<{ at: AtBank; run?: number }>()
const short = (amount: string) => Number(amount) < 0
</script>

<template>
  <section class="mb-3">
    <h2 class="mb-1">What is left at the bank</h2>
    <table class="grid">
      <thead>
        <tr>
          <th>Day</th>
          <th>What</th>
          <th class="num">Amount</th>
          <th class="num">{{ at.currency }}</th>
          <th class="num">Left, {{ at.currency }}</th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <td>{{ showDay(at.day, today) }}</td>
          <td>by the last statement</td>
          <td></td>
          <td></td>
          <td class="num">{{ show(at.closing) }}</td>
        </tr>
        <tr v-if="Number(at.moved)">
          <td></td>
          <td>in the ledger and on no statement yet</td>
          <td></td>
          <td class="num">{{ show(at.moved) }}</td>
          <td></td>
        </tr>
        <tr v-for="l in at.leaving" :key="`${l.run} ${l.currency}`">
          <td class="nowrap">{{ showDay(l.day, today) }}</td>
          <td>
            <b v-if="l.run === (run ?? 0)">this run</b>
            <RouterLink v-else :to="placeOf.run(l.run)">run {{ l.run }}</RouterLink>
          </td>
          <td class="num">{{ show(l.amount) }} {{ l.currency }}</td>
          <td class="num">{{ l.currency === at.currency ? '' : 'about ' }}− {{ show(l.base) }}</td>
          <td class="num" :class="{ 'outside-text': short(l.left) }">{{ show(l.left) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="short(at.left)" class="outside-text mb-0 mt-1" role="status">
      The account does not reach for all of this, unless money comes in before.
    </p>
  </section>
</template>
