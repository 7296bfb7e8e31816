<script setup lang="ts">
// Puts a hold on an invoice, an order or a line: why, what it keeps from being done, who takes it off, what ends it.
import { ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'
import type { HoldEntry } from '@/api/client'
import { companyQuery } from '@/api/queries'
import PickField from './PickField.vue'
import SmallForm from './SmallForm.vue'
import TextField from './TextField.vue'
import TickBox from './TickBox.vue'
import { useKeptPanel } from './kept'

const props = defineProps<{
  invoice: boolean
  lines?: { no: number; description: string }[] | undefined
  at: (field: string) => string | undefined
  trouble: string
}>()
const emit = defineEmits<{ done: [entry: HoldEntry]; cancel: [] }>()
const { data: frame } = useQuery(companyQuery)
type Block = NonNullable<HoldEntry['blocks']>[number]
const all: { value: Block; text: string }[] = [
  { value: 'ordering', text: 'changing and sending' },
  { value: 'receiving', text: 'receiving' },
  { value: 'verifying', text: 'verifying' },
  { value: 'releasing', text: 'releasing' },
  { value: 'paying', text: 'paying' },
]
const offered = all.filter((b) => !props.invoice || !['ordering', 'receiving'].includes(b.value))
const clears = ['buyer', 'receiver', 'clerk', 'approver', 'treasurer']
const ends = [
  { value: '', text: 'somebody takes it off' },
  { value: 'day', text: 'a day comes' },
  { value: 'goods', text: 'the goods are here' },
  ...(props.invoice ? [{ value: 'credit', text: 'its credit note is here' }] : []),
]
const more = ref(!props.invoice)
const fresh = () => ({
  reason: 'goods',
  note: '',
  line: 0,
  blocks: (props.invoice ? ['releasing', 'paying'] : ['receiving', 'verifying']) as Block[],
  clears: '',
  until: '',
  untilDay: '',
})
const { draft, kept, send, leave } = useKeptPanel(`hold.${useRoute().path}`, fresh, () => !!props.trouble)
const tick = (b: Block, on: boolean) =>
  (draft.value.blocks = all.map((x) => x.value).filter((x) => (x === b ? on : draft.value.blocks.includes(x))))
function done() {
  send()
  const { line, until, ...rest } = draft.value
  emit('done', { ...rest, until: until as NonNullable<HoldEntry['until']>, ...(line ? { line } : {}) })
}
</script>

<template>
  <SmallForm action="Put on hold" :again="kept" @done="done" @cancel="(leave(), emit('cancel'))">
    <p class="mb-2">
      <b>Hold.</b> Books nothing. {{ invoice ? 'The invoice' : 'What is ticked' }} waits until the hold is taken off.
    </p>
    <div class="entry">
      <div v-if="lines?.length">
        <label for="hold-line">Of</label>
        <PickField
          id="hold-line"
          v-model="draft.line"
          :options="[
            { value: 0, text: 'the whole order' },
            ...lines.map((l) => ({ value: l.no, text: `line ${l.no}, ${l.description}` })),
          ]"
        />
      </div>
      <div>
        <label for="hold-option">Reason</label>
        <PickField
          id="hold-option"
          v-model="draft.reason"
          :options="(frame?.holdReasons ?? []).map((r) => ({ value: r.code, text: r.name }))"
        />
        <div class="small text-danger">{{ at('reason') }}</div>
      </div>
      <div class="flex-grow-1">
        <label for="hold">Note</label>
        <TextField id="hold" v-model="draft.note" data-first autocomplete="off" />
      </div>
    </div>
    <button v-if="!more" type="button" class="linkish mb-2" @click="more = true">
      What it blocks, who takes it off, what ends it…
    </button>
    <template v-else>
      <fieldset class="mb-2">
        <legend class="small muted mb-0">No</legend>
        <div class="d-flex flex-wrap gap-3">
          <TickBox
            v-for="b in offered"
            :key="b.value"
            :model-value="draft.blocks.includes(b.value)"
            @update:model-value="(on) => tick(b.value, on)"
            >{{ b.text }}</TickBox
          >
        </div>
        <div class="small text-danger">{{ at('blocks') }}</div>
      </fieldset>
      <div class="entry">
        <div>
          <label for="hold-clears">Taken off by</label>
          <PickField
            id="hold-clears"
            v-model="draft.clears"
            :options="[
              { value: '', text: 'whoever may hold it' },
              ...clears.map((r) => ({ value: r, text: `whoever is ${r}` })),
            ]"
          />
        </div>
        <div>
          <label for="hold-until">Stands until</label>
          <PickField id="hold-until" v-model="draft.until" :options="ends" />
        </div>
        <div v-if="draft.until === 'day'">
          <label for="hold-day">Day</label>
          <TextField
            id="hold-day"
            v-model="draft.untilDay"
            type="date"
            :state="at('untilDay') ? false : undefined"
            aria-describedby="hold-day-error"
          />
          <div id="hold-day-error" class="small text-danger">{{ at('untilDay') }}</div>
        </div>
      </div>
    </template>
    <div class="small text-danger" role="alert">{{ trouble }}</div>
  </SmallForm>
</template>
