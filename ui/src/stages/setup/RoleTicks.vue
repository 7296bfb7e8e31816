<script setup lang="ts">
// The roles a person has.
import type { Role } from '@/api/client'
import TickBox from '@/parts/TickBox.vue'

defineProps<{ id: string; error?: string | undefined }>()
const chosen = defineModel<Role[]>({ required: true })
const roles: Role[] = ['buyer', 'receiver', 'clerk', 'approver', 'treasurer', 'administrator', 'reader']
function toggle(r: Role) {
  chosen.value = chosen.value.includes(r) ? chosen.value.filter((x) => x !== r) : [...chosen.value, r]
}
</script>

<template>
  <fieldset class="mb-2">
    <legend class="fs-6 mb-1">Roles</legend>
    <div class="d-flex flex-wrap column-gap-3 row-gap-2">
      <TickBox v-for="r in roles" :key="r" :model-value="chosen.includes(r)" @update:model-value="toggle(r)">{{
        r
      }}</TickBox>
    </div>
    <div :id="`${id}-said`" class="small text-danger">{{ error }}</div>
  </fieldset>
</template>
