<script setup lang="ts">
// One finding with the ways to settle it; each way says first what it books and leaves open.
import { computed, nextTick, ref, watch } from 'vue'
import type { Finding } from '@/api/client'
import VerdictMark from '@/parts/VerdictMark.vue'
import { showInstant } from '@/parts/numbers'
import { today } from '@/parts/session'
import TextField from '@/parts/TextField.vue'

const props = defineProps<{
  finding: Finding
  rank: number
  open: boolean
  mayAccept: boolean
  mayCorrect: boolean
  mayDeliver: boolean
  trouble: string
}>()
const emit = defineEmits<{ toggle: []; accept: [note: string]; way: [way: string]; cancel: [] }>()
const note = ref('')
const chosen = ref('')
const box = ref<HTMLElement>()
const allowed = (way: string) => (way === 'accept' ? props.mayAccept : way === 'deliver' ? props.mayDeliver : props.mayCorrect)
const id = computed(() => `finding-${props.finding.kind}-${props.finding.line}`)

watch(
  () => props.open,
  async (now) => {
    if (!now) return
    chosen.value = props.finding.ways.find((w) => allowed(w.way))?.way ?? ''
    await nextTick()
    box.value?.querySelector<HTMLElement>('input:checked')?.focus()
  },
)
function go() {
  if (chosen.value === 'accept') emit('accept', note.value)
  else if (chosen.value) emit('way', chosen.value)
}
</script>

<template>
  <div class="finding" :class="finding.accepted ? 'accepted' : finding.verdict">
    <div class="said">
      <span>
        <VerdictMark :verdict="finding.accepted ? 'within' : finding.verdict" only />
        {{ finding.sentence }}
        <span v-if="finding.accepted" class="muted"
          >Accepted by {{ finding.accepted.by }}, {{ showInstant(finding.accepted.at, today) }}: {{ finding.accepted.note }}</span
        >
        <span v-else-if="finding.ways.length" class="muted nowrap">{{ finding.turn }}’s turn</span>
      </span>
      <button v-if="finding.ways.length" type="button" class="linkish" :aria-expanded="open" :aria-controls="id" @click="emit('toggle')">
        Settle… <kbd>{{ rank }}</kbd>
      </button>
    </div>
    <form
      v-if="open"
      :id="id"
      ref="box"
      class="ask"
      data-own-keys
      @submit.prevent="go"
      @keydown.esc.stop.prevent="emit('cancel')"
      @keydown.ctrl.enter.stop.prevent="go"
    >
      <fieldset>
        <legend class="visually-hidden">Ways to settle it</legend>
        <div v-for="w in finding.ways" :key="w.way" class="form-check">
          <input
            :id="`${id}-${w.way}`"
            v-model="chosen"
            class="form-check-input"
            type="radio"
            :name="id"
            :value="w.way"
            :disabled="!allowed(w.way)"
          />
          <label class="form-check-label" :for="`${id}-${w.way}`"
            ><b>{{ w.label }}.</b> {{ w.books }} <span v-if="!allowed(w.way)" class="muted">(not in your hands)</span></label
          >
        </div>
      </fieldset>
      <template v-if="chosen === 'accept'">
        <label :for="`${id}-note`">Why it is accepted</label>
        <TextField
          :id="`${id}-note`"
          v-model="note"
          autocomplete="off"
          :state="trouble ? false : undefined"
          :aria-describedby="`${id}-trouble`"
        />
      </template>
      <div :id="`${id}-trouble`" class="small text-danger" role="alert">{{ trouble }}</div>
      <div class="do">
        <BButton type="submit" variant="primary" :disabled="!chosen">{{
          finding.ways.find((w) => w.way === chosen)?.label ?? 'Settle'
        }}</BButton>
        <BButton type="button" variant="outline-secondary" @click="emit('cancel')">Leave it</BButton>
      </div>
    </form>
  </div>
</template>
