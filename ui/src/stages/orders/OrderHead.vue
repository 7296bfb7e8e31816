<script setup lang="ts">
// From whom, by when, by whom and where something is ordered.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { suppliersQuery } from '@/api/queries'
import ChoiceField from '@/parts/ChoiceField.vue'
import PlaceField from '@/parts/PlaceField.vue'
import TextField from '@/parts/TextField.vue'
import type { Choice } from '@/parts/choice'
import { today } from '@/parts/session'
import type { DraftOrder } from './entry'

defineProps<{ change: boolean; problem: (field: string) => string | undefined }>()
const draft = defineModel<DraftOrder>({ required: true })
/** A name that is no supplier's yet. */
const unknown = defineModel<string>('unknown', { required: true })
const { data: suppliers } = useQuery(suppliersQuery)
const sellers = computed<Choice[]>(() =>
  (suppliers.value ?? []).filter((s) => !s.ended).map((s) => ({ value: s.code, text: s.name, also: s.code })),
)
const seller = computed(() => suppliers.value?.find((s) => s.code === draft.value.supplier))
</script>

<template>
  <dl class="facts fields">
    <div>
      <dt><label for="order-supplier">Supplier</label></dt>
      <dd>
        <span v-if="change" class="d-block pt-1 fw-semibold">{{ seller?.name }}</span>
        <ChoiceField
          v-else
          id="order-supplier"
          v-model="draft.supplier"
          v-model:typed="unknown"
          label="Supplier"
          :choices="sellers"
          :state="problem('supplier') ? false : undefined"
          described="order-supplier-error"
          style="width: 230px"
        />
      </dd>
    </div>
    <div>
      <dt><label for="order-wanted">Wanted by</label></dt>
      <dd>
        <TextField
          id="order-wanted"
          v-model="draft.wantedOn"
          type="date"
          :min="today"
          :state="problem('wantedOn') ? false : undefined"
          aria-describedby="order-wanted-error"
        />
      </dd>
    </div>
    <div>
      <dt><label for="order-requested">Asked for by</label></dt>
      <dd><TextField id="order-requested" v-model="draft.requestedBy" autocomplete="off" style="width: 170px" /></dd>
    </div>
    <div>
      <dt><label for="order-place">Place</label></dt>
      <dd>
        <PlaceField
          id="order-place"
          v-model:place="draft.place"
          v-model:elsewhere="draft.elsewhere"
          :error="problem('place')"
        />
      </dd>
    </div>
  </dl>
  <div id="order-supplier-error" class="small text-danger" role="alert">{{ problem('supplier') }}</div>
  <div id="order-wanted-error" class="small text-danger" role="alert">{{ problem('wantedOn') }}</div>
</template>
