<script setup lang="ts">
// How the simulated bank of the demo behaves from its next file on.
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'

const { data } = useQuery({ queryKey: ['stand-in'], queryFn: () => unwrap(api.GET('/api/bank/stand-in')) })
const { send, busy } = useJob()
function toggle(key: string) {
  if (busy.value) return
  const now = data.value?.now ?? []
  const behave = now.includes(key) ? now.filter((k) => k !== key) : [...now, key]
  void send(() => unwrap(api.POST('/api/bank/stand-in', { body: { behave } })), {
    done: behave.length ? 'The bank behaves so from its next file on.' : 'The bank settles everything again.',
  })
}
</script>

<template>
  <section v-if="data" class="mt-4" aria-label="The demo’s bank">
    <h2 class="mb-1">The demo’s bank</h2>
    <p class="muted small mb-1">
      It is a stand-in that settles what it is sent. From its next file on it may behave as banks do:
    </p>
    <TickBox
      v-for="b in data.offered"
      :key="b.code"
      :model-value="data.now.includes(b.code)"
      @update:model-value="toggle(b.code)"
      >{{ b.name }}</TickBox
    >
  </section>
</template>
