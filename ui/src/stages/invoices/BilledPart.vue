<script setup lang="ts">
// Which part of an order an invoice bills, where that is not what is here: all that is left, a share, or more of another.
import TextField from '@/parts/TextField.vue'
import type { useTied } from './tied'

const props = defineProps<{
  tied: ReturnType<typeof useTied>
  /** Another part of the order may be proposed. */
  whole: boolean
}>()
const { chosen, another, anotherTrouble, takeAnother, share, shareTrouble, proposeOf } = props.tied
</script>

<template>
  <div>
    <div class="d-flex gap-2 align-items-center" data-aside>
      <button v-if="whole && chosen" type="button" class="linkish nowrap" @click="proposeOf({ rest: true })">
        The rest of the order
      </button>
      <span
        v-if="whole && chosen"
        class="d-inline-flex gap-2 align-items-center"
        @keydown.enter.stop.prevent="share.trim() && proposeOf({ share })"
      >
        <label for="invoice-share" class="muted nowrap">Share of it</label>
        <TextField
          id="invoice-share"
          v-model="share"
          autocomplete="off"
          placeholder="10% or 850"
          :state="shareTrouble ? false : undefined"
          aria-describedby="billed-part-error"
          style="width: 96px"
        />
        <BButton size="sm" variant="outline-secondary" :disabled="!share.trim()" @click="proposeOf({ share })"
          >Propose</BButton
        >
      </span>
      <span class="d-inline-flex gap-2 align-items-center ms-auto" @keydown.enter.stop.prevent="takeAnother">
        <label for="another-order" class="muted nowrap">Another order or note</label>
        <TextField
          id="another-order"
          v-model="another"
          class="mono"
          autocomplete="off"
          :state="anotherTrouble ? false : undefined"
          aria-describedby="billed-part-error"
          style="width: 80px"
        />
        <BButton size="sm" variant="outline-secondary" :disabled="!another.trim()" @click="takeAnother">Add</BButton>
      </span>
    </div>
    <div id="billed-part-error" class="small text-danger" role="alert">{{ shareTrouble || anotherTrouble }}</div>
  </div>
</template>
