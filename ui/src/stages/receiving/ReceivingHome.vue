<script setup lang="ts">
// Receiving before an order is chosen.
import { useQuery } from '@tanstack/vue-query'
import { goodsList } from '@/api/queries'
import NoticeBar from '@/parts/NoticeBar.vue'
import { show } from '@/parts/numbers'

const { data: expected } = useQuery(goodsList)
</script>

<template>
  <section class="sheet" aria-label="Delivery">
    <NoticeBar />
    <div class="nothing">
      <h1>Receiving</h1>
      <p>
        Type the order’s number, a space and the delivery note’s number, and press <kbd>Enter</kbd>; or a notice, or
        letters of the supplier; or choose on the left.
      </p>
      <p>
        {{ expected?.rows.length ? `${show(String(expected.rows.length))} orders are waiting for goods.` : '' }}
      </p>
    </div>
  </section>
  <aside class="side" aria-label="Thread of the order"></aside>
</template>
