<script setup lang="ts">
// Budgets that orders are charged to, kinds of charge, reasons of holds, tax codes, the chart of accounts, exchange rates, and months that are closed.
import { useQuery } from '@tanstack/vue-query'
import { companyQuery } from '@/api/queries'
import NoticeBar from '@/parts/NoticeBar.vue'
import AccountsPart from './AccountsPart.vue'
import BudgetsPart from './BudgetsPart.vue'
import ChargesPart from './ChargesPart.vue'
import DeferralsPart from './DeferralsPart.vue'
import GroupsPart from './GroupsPart.vue'
import MonthsPart from './MonthsPart.vue'
import RatesPart from './RatesPart.vue'
import ReasonsPart from './ReasonsPart.vue'
import SetUpTabs from './SetUpTabs.vue'
import TaxesPart from './TaxesPart.vue'

const { data: frame, error } = useQuery(companyQuery)
</script>

<template>
  <main class="desk alone">
    <section class="sheet" aria-label="Budgets and books">
      <NoticeBar />
      <header>
        <div class="headline">
          <h1>Budgets and books</h1>
          <SetUpTabs />
        </div>
      </header>
      <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
      <div v-else-if="frame" class="body" tabindex="0">
        <BudgetsPart :frame="frame" />
        <GroupsPart :frame="frame" />
        <ChargesPart :frame="frame" />
        <ReasonsPart :frame="frame" />
        <TaxesPart :frame="frame" />
        <AccountsPart :frame="frame" />
        <RatesPart :frame="frame" />
        <DeferralsPart />
        <MonthsPart :frame="frame" />
      </div>
    </section>
  </main>
</template>
