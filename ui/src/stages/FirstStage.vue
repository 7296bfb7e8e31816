<script setup lang="ts">
// Where a day begins: at the first stage of the work where it is one's own turn.
import { watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { onBeforeRouteLeave, useRouter } from 'vue-router'
import { courseQuery } from '@/api/queries'

const router = useRouter()
const { data, isError } = useQuery(courseQuery)
let leaving = false // whoever has opened something meanwhile stays there
onBeforeRouteLeave(() => void (leaving = true))
const stages = ['orders', 'receiving', 'invoices', 'holds', 'payments'] as const
watch(
  [data, isError],
  ([course, failed]) => {
    if (leaving || (!course && !failed)) return
    void router.replace(`/${stages.find((s) => (course?.[s] ?? 0) > 0) ?? 'invoices'}`)
  },
  { immediate: true },
)
</script>

<template><main class="desk wide" aria-busy="true"></main></template>
