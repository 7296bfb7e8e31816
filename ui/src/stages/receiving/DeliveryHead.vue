<script setup lang="ts">
// By which note, when and where goods arrived.
import NumberField from '@/parts/NumberField.vue'
import PlaceField from '@/parts/PlaceField.vue'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import { today } from '@/parts/session'
import type { DeliveryDraft } from './count'

defineProps<{
  problem: (field: string) => string | undefined
  /** What says that the note was booked before, where it was. */
  again: string | undefined
  /** What says that the lines are not what the note counts. */
  missed: string | undefined
}>()
const draft = defineModel<DeliveryDraft>({ required: true })
</script>

<template>
  <dl class="facts fields">
    <div>
      <dt><label for="delivery-note">Delivery note</label></dt>
      <dd>
        <TextField
          id="delivery-note"
          v-model="draft.note"
          class="mono"
          autocomplete="off"
          :state="problem('note') ? false : undefined"
          aria-describedby="delivery-note-error"
          :disabled="draft.noNote"
          :placeholder="draft.noNote ? 'a number of ours' : ''"
          style="width: 150px"
        />
      </dd>
    </div>
    <div>
      <dt><label for="delivery-day">Arrived</label></dt>
      <dd>
        <TextField
          id="delivery-day"
          v-model="draft.day"
          type="date"
          :max="today"
          :state="problem('day') ? false : undefined"
          aria-describedby="delivery-day-error"
        />
      </dd>
    </div>
    <div>
      <dt><label for="delivery-place">Place</label></dt>
      <dd>
        <PlaceField
          id="delivery-place"
          v-model:place="draft.place"
          v-model:elsewhere="draft.elsewhere"
          :error="problem('place')"
        />
      </dd>
    </div>
    <div>
      <dt><label for="delivery-stated">Note’s own count</label></dt>
      <dd>
        <NumberField
          id="delivery-stated"
          v-model="draft.stated"
          data-aside
          label="What the note says came in all"
          :error="missed ? ' ' : undefined"
          described="delivery-stated-error"
          style="width: 100px"
        />
      </dd>
    </div>
    <div class="align-self-end pb-1">
      <dt class="visually-hidden">Without a note</dt>
      <dd><TickBox id="no-note" v-model="draft.noNote">Came without a note</TickBox></dd>
    </div>
    <div v-if="again || draft.secondPart" class="align-self-end pb-1">
      <dt class="visually-hidden">The same note again</dt>
      <dd>
        <TickBox id="second-part" v-model="draft.secondPart">{{
          draft.noNote ? 'Other goods than those' : 'Second part of this note'
        }}</TickBox>
      </dd>
    </div>
  </dl>
  <div id="delivery-note-error" class="small text-danger">
    {{ problem('note') ?? again }}
  </div>
  <div v-if="missed || draft.statedWhy" id="delivery-stated-error" class="mt-1">
    <span v-if="missed" class="small text-danger d-block" role="alert">{{ missed }}</span>
    <label for="delivery-stated-why">Why the lines do not add up to it</label>
    <TextField id="delivery-stated-why" v-model="draft.statedWhy" autocomplete="off" style="width: 320px" />
  </div>
  <div id="delivery-day-error" class="small text-danger">{{ problem('day') }}</div>
</template>
